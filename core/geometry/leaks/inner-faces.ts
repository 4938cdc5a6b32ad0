import { COARSE } from '#core/geometry/reach/grid';
import { ReachField, type StandingMesh } from '#core/geometry/reach/reached';
import { cornersOf, normalOf } from '#core/geometry/shape/triangles';
import { growByMesh } from '#core/geometry/whole/whole';
import type { Progress } from '#core/planning';
import { emptyBox } from '#core/product/box';
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
  const box = emptyBox();
  for (const { mesh, placement } of meshes) growByMesh(box, mesh.positions, placement);
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
  // Only a flat face can be told by its neighbours, by the edges on its rim.
  const flat = inner.filter(isFlat);
  const rims = new Map(flat.map((face) => [face, rimOf(face)]));
  const wanted = new Map([...rims.values()].flatMap((rim) => rim.map(([a, b]) => [`${b} ${a}`, false])));
  if (wanted.size > 0)
    for (const face of isReached.keys())
      if (isReached[face] === 1)
        for (const [a, b] of rimOf(face)) if (wanted.has(`${a} ${b}`)) wanted.set(`${a} ${b}`, true);
  const isTold = (face: number) => {
    const rim = rims.get(face);
    return rim?.every(([a, b]) => wanted.get(`${b} ${a}`)) && isOneLoop(rim);
  };
  return inner.filter((face) => !isTold(face)).length;

  /** Edges of the triangles of a face that have none beside them, by the places that they lead from and to. */
  function rimOf(face: number): [string, string][] {
    const [from, count] = [faceGroups[2 * face]!, faceGroups[2 * face + 1]!];
    // The vertices of one face are its own: within it an edge is known by them.
    const edges = new Map<number, [number, number]>();
    const size = positions.length;
    for (let n = from; n < from + count; n += 3)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [triangles[n + k]!, triangles[n + ((k + 1) % 3)]!];
        if (!edges.delete(b * size + a)) edges.set(a * size + b, [a, b]);
      }
    const place = (vertex: number) =>
      `${positions[3 * vertex]},${positions[3 * vertex + 1]},${positions[3 * vertex + 2]}`;
    // A seam is gone along both ways.
    const rim = new Map<string, [string, string]>();
    for (const [from, to] of edges.values()) {
      const [a, b] = [place(from), place(to)];
      if (!rim.delete(`${b} ${a}`)) rim.set(`${a} ${b}`, [a, b]);
    }
    return [...rim.values()];
  }

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
function isOneLoop(edges: readonly [string, string][]): boolean {
  const next = new Map(edges);
  if (edges.length === 0 || next.size !== edges.length) return false;
  const [start] = edges[0]!;
  let at = start;
  for (let n = 1; n <= edges.length; n++) {
    at = next.get(at) ?? '';
    if (at === start) return n === edges.length;
  }
  return false;
}
