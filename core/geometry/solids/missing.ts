import { meshVolume } from '#core/geometry/shape/doubt';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { type Box, boxOfPositions, diagonalOf } from '#core/product/box';
import { boxOfSolid, manifoldLibrary, solidOf } from './manifold';

/** Part of a body's volume that two meshes of it may differ by, and of its diagonal, as the thickness of that. */
const OF_VOLUME = 0.05;
const OF_DIAGONAL = 0.006;

/**
 * What of some bodies is not in what they were united to: boxes of what is missing of each, mm. Bodies that are not closed are left aside, and
 * what meshes are off by does not count.
 */
export async function missingIn(bodies: readonly SolidMesh[], solids: readonly SolidMesh[]): Promise<Box[]> {
  const library = await manifoldLibrary();
  const whole = solids.flatMap((mesh) => solidOf(library, mesh) ?? []);
  const missing: Box[] = [];
  if (whole.length === solids.length)
    for (const mesh of bodies) {
      const body = solidOf(library, mesh);
      if (!body) continue;
      let rest = body;
      for (const solid of whole) {
        const less = rest.subtract(solid);
        rest.delete();
        rest = less;
      }
      const volume = rest.volume();
      const thin = OF_DIAGONAL * diagonalOf(boxOfPositions(mesh.positions));
      if (volume > OF_VOLUME * meshVolume(mesh) && volume > (thin * rest.surfaceArea()) / 2)
        missing.push(boxOfSolid(rest));
      rest.delete();
    }
  for (const solid of whole) solid.delete();
  return missing;
}
