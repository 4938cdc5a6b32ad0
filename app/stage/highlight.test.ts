import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { SELECTED } from './highlight';
import { InstancedBody } from './instanced-body';

const at = (x: number) => new THREE.Matrix4().makeTranslation(x, 0, 0);
function body() {
  const faces = new THREE.BoxGeometry();
  faces.computeBoundingBox();
  return new InstancedBody(
    { faces, edges: new THREE.EdgesGeometry(faces) },
    { colour: '#336699' },
    [0, 1, 2].map((row) => ({ row, name: `b${row}`, matrix: at(row) })),
  );
}
const highlightOf = ({ faces }: InstancedBody) => faces.children[0] as THREE.InstancedMesh | undefined;
const colourAt = ({ faces }: InstancedBody, n: number) => {
  const colour = new THREE.Color();
  faces.getColorAt(n, colour);
  return colour;
};

describe('what is selected on the stage', () => {
  it('costs nothing until something is, and nothing again when nothing is', () => {
    const one = body();
    one.update(new Set(), new Set());
    expect(highlightOf(one)).toBeUndefined();
    one.update(new Set(), new Set([1]));
    expect(highlightOf(one)!.visible).toBe(true);
    one.update(new Set(), new Set());
    expect(highlightOf(one)!.visible).toBe(false);
  });

  it('is drawn at the selected placings only, not at hidden ones, and each of its meshes there', () => {
    const one = body();
    one.update(new Set([0]), new Set([0, 2]));
    const lit = highlightOf(one)!;
    const place = new THREE.Matrix4();
    lit.getMatrixAt(0, place);
    expect([lit.count, place.elements[12]]).toEqual([1, 2]);
    expect(lit.children.map((mesh) => (mesh as THREE.InstancedMesh).count)).toEqual([1, 1]);
  });

  it('keeps its own colour, a little changed', () => {
    const one = body();
    one.update(new Set(), new Set([1]));
    const own = new THREE.Color('#336699');
    const lit = colourAt(one, 1);
    expect(colourAt(one, 0).getHexString()).toBe(own.getHexString());
    const distance = (a: THREE.Color, b: THREE.Color) => Math.hypot(a.r - b.r, a.g - b.g, a.b - b.b);
    expect(distance(lit, own)).toBeGreaterThan(0.05);
    expect(distance(lit, own)).toBeLessThan(distance(lit, SELECTED));
  });

  it('is never what a click hits', () => {
    const one = body();
    one.update(new Set(), new Set([0]));
    const ray = new THREE.Raycaster(new THREE.Vector3(0, 0, 5), new THREE.Vector3(0, 0, -1));
    expect(ray.intersectObject(highlightOf(one)!, true)).toEqual([]);
  });
});
