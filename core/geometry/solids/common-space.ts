import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { doBoxesMeet } from '#core/product/box';
import type { Matrix4 } from '#core/product/matrix';
import { boxOfSolid, columnsOf, manifoldLibrary, solidOf } from './manifold';

/** Two solids that have space in common. */
export interface Common {
  between: [one: number, other: number];
  /** Which of the poses. */
  pose: number;
  /** mm³ */
  volume: number;
}

/**
 * Which of some solids have space in common, in which pose most of it. What is thinner than a given thickness is the rounding of curved
 * surfaces that lie on each other.
 * @param poses of each solid, row-major, for each pose
 * @param thin mm
 * @returns of each pair at most one
 */
export async function commonOf(
  meshes: readonly SolidMesh[],
  poses: readonly (readonly Matrix4[])[],
  thin: number,
): Promise<Common[]> {
  const library = await manifoldLibrary();
  const solids = meshes.map((mesh) => solidOf(library, mesh));
  const worst = new Map<string, Common>();
  for (const [pose, places] of poses.entries()) {
    const placed = solids.map((solid, n) => solid?.transform(columnsOf(places[n]!)));
    for (let one = 0; one < placed.length; one++)
      for (let other = one + 1; other < placed.length; other++) {
        const [a, b] = [placed[one], placed[other]];
        if (!a || !b || !doBoxesMeet(boxOfSolid(a), boxOfSolid(b))) continue;
        const common = a.intersect(b);
        const [volume, area] = [common.volume(), common.surfaceArea()];
        common.delete();
        const key = `${one} ${other}`;
        if (volume <= (thin * area) / 2 || volume <= (worst.get(key)?.volume ?? 0)) continue;
        worst.set(key, { between: [one, other], pose, volume });
      }
    for (const solid of placed) solid?.delete();
  }
  for (const solid of solids) solid?.delete();
  return [...worst.values()];
}
