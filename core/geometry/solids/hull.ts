import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { manifoldLibrary, meshOf } from './manifold';

/** The smallest convex solid that holds all points of a mesh. */
export async function hullOf({ positions }: Pick<SolidMesh, 'positions'>): Promise<SolidMesh> {
  const { Manifold: Solid } = await manifoldLibrary();
  const points = Array.from({ length: positions.length / 3 }, (_, n): [number, number, number] => [
    positions[3 * n]!,
    positions[3 * n + 1]!,
    positions[3 * n + 2]!,
  ]);
  const hull = Solid.hull(points);
  const mesh = meshOf(hull);
  hull.delete();
  return mesh;
}
