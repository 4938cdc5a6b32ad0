import { Enumeration, Real, type Reference } from '#core/files/part21/parameters';
import type { Part21Builder } from '#core/files/part21/write';
import { type SolidMesh, weldedMesh } from '#core/geometry/shape/solid-mesh';
import { cornersOf, normalOf } from '#core/geometry/shape/triangles';
import type { Vector3 } from '#core/product/matrix';
import { across, cross, dot, subtract } from '#core/product/vector';

/** How far a vertex may lie off the plane of a facet that it is taken into, mm, and how far normals may differ. */
const FLAT = 1e-5;
const SAME_NORMAL = 1 - 1e-9;

/** Flat facets of a mesh: outlines as positions of vertices, the outer one first. */
interface Facet {
  normal: Vector3;
  loops: number[][];
}

/**
 * Adds a closed mesh as FACETED_BREP (ISO 10303-42): triangles in one plane that hang together are one facet, where its outline is simple.
 * Facets are FACE_SURFACEs with a plane: with a plain FACE some readers see an empty shell.
 * @returns the FACETED_BREP
 */
export function addFacets(builder: Part21Builder, mesh: SolidMesh): Reference {
  const welded = weldedMesh(mesh);
  const vertices = verticesOf(welded);
  const real = (values: readonly number[]) => values.map((value) => new Real(value));
  const points = vertices.map((vertex) => builder.add('CARTESIAN_POINT', '', real(vertex)));
  const isTrue = new Enumeration('T');
  const faces = facetsOf(vertices, welded).map(({ normal, loops }) => {
    const bounds = loops.map((loop, n) =>
      builder.add(
        n === 0 ? 'FACE_OUTER_BOUND' : 'FACE_BOUND',
        '',
        builder.add(
          'POLY_LOOP',
          '',
          loop.map((vertex) => points[vertex]!),
        ),
        isTrue,
      ),
    );
    const placement = builder.add(
      'AXIS2_PLACEMENT_3D',
      '',
      points[loops[0]![0]!]!,
      builder.add('DIRECTION', '', real(normal)),
      builder.add('DIRECTION', '', real(across(normal)[0])),
    );
    return builder.add('FACE_SURFACE', '', bounds, builder.add('PLANE', '', placement), isTrue);
  });
  return builder.add('FACETED_BREP', '', builder.add('CLOSED_SHELL', '', faces));
}

/** How many facets a closed mesh is written as. */
export function facetCount(mesh: SolidMesh): number {
  const welded = weldedMesh(mesh);
  return facetsOf(verticesOf(welded), welded).length;
}

function verticesOf({ positions }: SolidMesh): Vector3[] {
  return Array.from(
    { length: positions.length / 3 },
    (_, n): Vector3 => [positions[3 * n]!, positions[3 * n + 1]!, positions[3 * n + 2]!],
  );
}

function facetsOf(vertices: readonly Vector3[], mesh: SolidMesh): Facet[] {
  const { triangles } = mesh;
  const count = triangles.length / 3;
  const normals = Array.from({ length: count }, (_, n) => normalOf(cornersOf(mesh, n)));
  const across = new Map<string, number>();
  for (let n = 0; n < count; n++)
    for (let k = 0; k < 3; k++) across.set(`${triangles[3 * n + k]} ${triangles[3 * n + ((k + 1) % 3)]}`, n);
  const facetOf = new Int32Array(count).fill(-1);
  const facets: Facet[] = [];
  for (let start = 0; start < count; start++) {
    if (facetOf[start] !== -1) continue;
    const [normal, origin] = [normals[start]!, vertices[triangles[3 * start]!]!];
    const members = [start];
    facetOf[start] = facets.length;
    for (const n of members)
      for (let k = 0; k < 3; k++) {
        const other = across.get(`${triangles[3 * n + ((k + 1) % 3)]} ${triangles[3 * n + k]}`);
        if (other === undefined || facetOf[other] !== -1) continue;
        const isFlat =
          dot(normals[other]!, normal) > SAME_NORMAL &&
          [0, 1, 2].every(
            (c) => Math.abs(dot(subtract(vertices[triangles[3 * other + c]!]!, origin), normal)) < FLAT,
          );
        if (!isFlat) continue;
        facetOf[other] = facets.length;
        members.push(other);
      }
    const loops = members.length === 1 ? null : outlineOf(vertices, triangles, members, normal);
    if (loops) facets.push({ normal, loops });
    else
      for (const n of members)
        facets.push({
          normal: normals[n]!,
          loops: [[triangles[3 * n]!, triangles[3 * n + 1]!, triangles[3 * n + 2]!]],
        });
  }
  return facets;
}

/** The outlines of triangles that lie in a plane; null where they touch themselves. */
function outlineOf(
  vertices: readonly Vector3[],
  triangles: Uint32Array,
  members: readonly number[],
  normal: Vector3,
): number[][] | null {
  const edges = new Set<string>();
  for (const n of members)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [triangles[3 * n + k]!, triangles[3 * n + ((k + 1) % 3)]!];
      if (!edges.delete(`${b} ${a}`)) edges.add(`${a} ${b}`);
    }
  const next = new Map<number, number>();
  for (const edge of edges) {
    const [a, b] = edge.split(' ').map(Number) as [number, number];
    // A vertex that is met twice would make the outline touch itself.
    if (next.has(a)) return null;
    next.set(a, b);
  }
  const loops: number[][] = [];
  while (next.size > 0) {
    const [first] = next.keys() as Iterable<number> as [number];
    const loop: number[] = [];
    for (let at: number | undefined = first; at !== undefined && next.has(at); ) {
      loop.push(at);
      const to: number = next.get(at)!;
      next.delete(at);
      at = to;
    }
    loops.push(loop);
  }
  const areas = loops.map((loop) => areaOf(vertices, loop, normal));
  // One outline goes round, the others are holes in it.
  if (areas.filter((area) => area > 0).length !== 1) return null;
  return loops
    .map((loop, n) => ({ loop, area: areas[n]! }))
    .sort((a, b) => b.area - a.area)
    .map(({ loop }) => loop);
}

function areaOf(vertices: readonly Vector3[], loop: readonly number[], normal: Vector3): number {
  let sum = 0;
  for (let n = 0; n < loop.length; n++)
    sum += dot(cross(vertices[loop[n]!]!, vertices[loop[(n + 1) % loop.length]!]!), normal);
  return sum;
}
