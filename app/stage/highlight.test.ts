import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { NOT_DRAWN } from './detail';
import { SELECTED } from './highlight';
import { InstancedBody, type Shown } from './instanced-body';

const at = (x: number) => new THREE.Matrix4().makeTranslation(x, 0, 0);
function body() {
  const faces = new THREE.BoxGeometry();
  faces.computeBoundingBox();
  return new InstancedBody(
    {
      faces,
      edges: new THREE.EdgesGeometry(faces),
      levels: [
        { faces, triangles: 12, error: 0 },
        { faces: new THREE.TetrahedronGeometry(), triangles: 4, error: 1 },
      ],
    },
    { colour: '#336699' },
    [0, 1, 2].map((row) => ({ row, name: `b${row}`, matrix: at(row) })),
    null,
  );
}
/** Shows rows as they are after each is decided to be drawn with a level. */
const show = (
  one: InstancedBody,
  hidden: number[],
  selected: number[],
  { levels = [], ...how }: Partial<Shown> & { levels?: number[] } = {},
) => {
  one.update({
    hidden: new Set(hidden),
    selected: new Set(selected),
    isSeeThrough: false,
    colours: new Map(),
    shiftOf: null,
    poses: new Map(),
    ...how,
  });
  one.decided.forEach((_, n) => {
    one.decided[n] = levels[n] ?? 0;
  });
  one.arrange();
};
const layersOf = ({ group }: InstancedBody) =>
  group.children.filter((child) => 'instanceColor' in child && child.instanceColor) as THREE.InstancedMesh[];
const highlightOf = (one: InstancedBody) => layersOf(one)[0]?.children[0] as THREE.InstancedMesh | undefined;
const colourAt = (one: InstancedBody, n: number) => {
  const colour = new THREE.Color();
  layersOf(one)[0]!.getColorAt(n, colour);
  return colour;
};

describe('how bodies are drawn', () => {
  it('is decided placing by placing: each level is one mesh, and what is not drawn is nowhere', () => {
    const one = body();
    show(one, [], [], { levels: [1, NOT_DRAWN, 0] });
    expect(layersOf(one).map(({ count, geometry }) => [count, geometry.type])).toEqual([
      [1, 'TetrahedronGeometry'],
      [1, 'BoxGeometry'],
    ]);
    show(one, [], [], { levels: [0, 0, 0] });
    expect(layersOf(one).map(({ count, visible }) => [count, visible])).toEqual([
      [0, false],
      [3, true],
    ]);
  });

  it('is faint for all that is not selected, when one sees through it', () => {
    const one = body();
    show(one, [], [1], { isSeeThrough: true });
    const [faint, solid] = layersOf(one).sort((a, b) => b.count - a.count);
    expect([faint!.count, (faint!.material as THREE.Material).transparent]).toEqual([2, true]);
    expect([solid!.count, (solid!.material as THREE.Material).transparent]).toEqual([1, false]);
    show(one, [], [], { isSeeThrough: true });
    expect(
      layersOf(one)
        .filter(({ count }) => count > 0)
        .map(({ count }) => count),
    ).toEqual([3]);
  });

  it('takes other colours than their own where rows have them', () => {
    const one = body();
    show(one, [], [2], { colours: new Map([[2, new THREE.Color('#ff0000')]]) });
    expect([0, 2].map((n) => colourAt(one, n).getHexString())).toEqual(['336699', 'ff0000']);
  });

  it('is picked whole, whatever is drawn', () => {
    const one = body();
    show(one, [], [], { levels: [NOT_DRAWN, NOT_DRAWN, NOT_DRAWN] });
    const ray = new THREE.Raycaster(new THREE.Vector3(1, 0, 5), new THREE.Vector3(0, 0, -1));
    const [hit] = ray.intersectObject(one.faces);
    expect(one.pickOf(hit!.instanceId!)).toEqual({ row: 1, name: 'b1' });
  });
});

describe('what is selected on the stage', () => {
  it('costs nothing until something is, and nothing again when nothing is', () => {
    const one = body();
    show(one, [], []);
    expect(highlightOf(one)).toBeUndefined();
    show(one, [], [1]);
    expect(highlightOf(one)!.visible).toBe(true);
    show(one, [], []);
    expect(highlightOf(one)!.visible).toBe(false);
  });

  it('is drawn at the selected placings only, not at hidden ones, and each of its meshes there', () => {
    const one = body();
    show(one, [0], [0, 2]);
    const lit = highlightOf(one)!;
    const place = new THREE.Matrix4();
    lit.getMatrixAt(0, place);
    expect([lit.count, place.elements[12]]).toEqual([1, 2]);
    expect(lit.children.map((mesh) => (mesh as THREE.InstancedMesh).count)).toEqual([1, 1]);
  });

  it('keeps its own colour, a little changed', () => {
    const one = body();
    show(one, [], [1]);
    const own = new THREE.Color('#336699');
    const lit = colourAt(one, 1);
    expect(colourAt(one, 0).getHexString()).toBe(own.getHexString());
    const distance = (a: THREE.Color, b: THREE.Color) => Math.hypot(a.r - b.r, a.g - b.g, a.b - b.b);
    expect(distance(lit, own)).toBeGreaterThan(0.05);
    expect(distance(lit, own)).toBeLessThan(distance(lit, SELECTED));
  });

  it('is never what a click hits', () => {
    const one = body();
    show(one, [], [0]);
    const ray = new THREE.Raycaster(new THREE.Vector3(0, 0, 5), new THREE.Vector3(0, 0, -1));
    expect(ray.intersectObject(highlightOf(one)!, true)).toEqual([]);
  });
});
