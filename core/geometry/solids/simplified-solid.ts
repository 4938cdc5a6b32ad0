import { MeshoptSimplifier } from 'meshoptimizer';
import { Vector3 as ThreeVector } from 'three';
import { meshVolume } from '#core/geometry/shape/doubt';
import { treeOf } from '#core/geometry/shape/mesh-tree';
import { type SolidMesh, withUsedVertices } from '#core/geometry/shape/solid-mesh';
import { centreOf, cornersOf } from '#core/geometry/shape/triangles';
import { isClosed, tidiedMesh } from './touching';

/** How often it is tried with half of what may be lost. */
const TRIES = 3;

/**
 * A closed mesh with fewer triangles, that lies nowhere further off than it may: measured both ways. The same mesh where none is found that
 * stays closed.
 * @param within mm
 */
export async function simplifiedSolid(mesh: SolidMesh, within: number): Promise<SolidMesh> {
  await MeshoptSimplifier.ready;
  for (let n = 0; n < TRIES; n++) {
    const [triangles] = MeshoptSimplifier.simplify(mesh.triangles, mesh.positions, 3, 0, within / 2 ** n, [
      'ErrorAbsolute',
    ]);
    if (triangles.length === 0 || triangles.length === mesh.triangles.length) continue;
    const simpler = tidiedMesh({ positions: mesh.positions, triangles });
    if (!isClosed(simpler) || meshVolume(simpler) <= 0) continue;
    if (furthest(mesh, simpler, within) <= within && furthest(simpler, mesh, within) <= within)
      return withUsedVertices(simpler);
  }
  return mesh;
}

/** How far corners and middles of a mesh lie from another at most, mm; any figure above the limit where it is more. */
function furthest(from: SolidMesh, to: SolidMesh, limit: number): number {
  const tree = treeOf(to);
  let most = 0;
  for (let n = 0; n < from.triangles.length / 3 && most <= limit; n++) {
    const corners = cornersOf(from, n);
    for (const point of [corners[0], centreOf(corners)]) {
      const hit = tree.closestPointToPoint(new ThreeVector(...point));
      most = Math.max(most, hit?.distance ?? Infinity);
    }
  }
  return most;
}
