import { COARSE } from '#core/geometry/reach/grid';
import { ReachField, type StandingMesh } from '#core/geometry/reach/reached';
import { cornersOf, normalOf } from '#core/geometry/shape/triangles';
import type { Progress } from '#core/planning';
import { type Box, emptyBox, growBox } from '#core/product/box';
import { transformPoint } from '#core/product/matrix';
import { dot } from '#core/product/vector';
import { type Leak, leak } from './leaks';

/** A body where it stands, by the name of its part. */
export interface NamedMesh extends StandingMesh {
  name: string;
}

/**
 * Faces that a ball from outside cannot come to: they tell of the inside, and nobody who mounts the product needs them. A flat face whose only
 * rim is the edge of faces that are reached does not count, as where a part stands on another: its neighbours tell as much.
 * @param gap width of an opening that is never passed, mm
 */
export async function innerFaces(
  meshes: readonly NamedMesh[],
  gap: number,
  progress?: Progress,
): Promise<Leak[]> {
  const box = boxOf(meshes);
  const field = await ReachField.roll(meshes, box, gap, progress, COARSE);
  const counts = new Map<string, number>();
  for (const mesh of meshes) {
    const inner = untoldFaces(mesh.mesh, field.facesReached(mesh));
    if (inner > 0) counts.set(mesh.name, (counts.get(mesh.name) ?? 0) + inner);
  }
  const sorted = [...counts].sort((a, b) => b[1] - a[1]);
  const all = sorted.reduce((sum, [, count]) => sum + count, 0);
  const examples = sorted.map(([name, count]) => `${name}: ${count === 1 ? '1 face' : `${count} faces`}`);
  return all === 0 ? [] : [leak('inner faces', all, examples)];
}

/** How many faces are not reached, and not told by their neighbours either. */
function untoldFaces({ positions, faceGroups, levels }: NamedMesh['mesh'], isReached: Uint8Array): number {
  const inner = [...isReached.keys()].filter((face) => isReached[face] === 0);
  if (inner.length === 0) return 0;
  const { triangles } = levels[0]!;
  const places = new Map<string, number>();
  const place = (vertex: number) => {
    const at = 3 * vertex;
    const key = `${positions[at]} ${positions[at + 1]} ${positions[at + 2]}`;
    const known = places.get(key) ?? places.size;
    places.set(key, known);
    return known;
  };
  const edgesOf = (face: number) => {
    const [from, count] = [faceGroups[2 * face]!, faceGroups[2 * face + 1]!];
    const edges = new Map<string, [number, number]>();
    for (let n = from; n < from + count; n += 3)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [place(triangles[n + k]!), place(triangles[n + ((k + 1) % 3)]!)];
        if (!edges.delete(`${b} ${a}`)) edges.set(`${a} ${b}`, [a, b]);
      }
    return edges;
  };
  const reachedEdges = new Set<string>();
  for (const face of isReached.keys())
    if (isReached[face] === 1) for (const edge of edgesOf(face).keys()) reachedEdges.add(edge);
  return inner.filter((face) => {
    const rim = edgesOf(face);
    for (const [a, b] of rim.values()) if (!reachedEdges.has(`${b} ${a}`)) return true;
    return !isFlat(face) || !isOneLoop([...rim.values()]);
  }).length;

  function isFlat(face: number): boolean {
    const [from, count] = [faceGroups[2 * face]!, faceGroups[2 * face + 1]!];
    const first = normalOf(cornersOf({ positions, triangles }, from / 3));
    for (let n = from / 3; n < (from + count) / 3; n++)
      if (dot(first, normalOf(cornersOf({ positions, triangles }, n))) < FLAT) return false;
    return true;
  }
}

/** How far the normals of a flat face may differ, as the cosine between them. */
const FLAT = 1 - 1e-5;

/** Whether edges make one way round. */
function isOneLoop(edges: readonly [number, number][]): boolean {
  const next = new Map(edges);
  if (edges.length === 0 || next.size !== edges.length) return false;
  const [start] = edges[0]!;
  let at = start;
  for (let n = 1; n <= edges.length; n++) {
    at = next.get(at) ?? -1;
    if (at === start) return n === edges.length;
  }
  return false;
}

function boxOf(meshes: readonly StandingMesh[]): Box {
  const box = emptyBox();
  for (const { mesh, placement } of meshes)
    for (let at = 0; at < mesh.positions.length; at += 3)
      growBox(
        box,
        transformPoint(placement, [mesh.positions[at]!, mesh.positions[at + 1]!, mesh.positions[at + 2]!]),
      );
  return box;
}
