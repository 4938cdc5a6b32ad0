import { sidesOf } from '#core/product/box';
import type { BodyFacts, BodyMesh } from './body';

/** What a mesh may miss of a volume besides its chord error, as a part of it. */
const SHARE = 1e-3;

/** Why a volume cannot be that of a solid, in words for the engineer; null for one that can. */
export function impossibleVolume(volume: number): string | null {
  if (!Number.isFinite(volume))
    return 'The volume of this solid is not a number: its surfaces cannot be summed up.';
  if (volume < 0)
    return `The volume of this solid is negative (${cubic(volume)}): its faces are turned inside out. Save it again in the system that it comes from.`;
  if (volume === 0)
    return 'The volume of this solid is 0 mm³: its shell is not closed. Save it again in the system that it comes from.';
  return null;
}

/**
 * Whether what is known of a solid does not go together: the volume from its surfaces, the volume of its mesh, and its box.
 * Each is computed in another way, so a body whose surfaces run wild is noticed although nothing complains.
 * @returns the figures, in words; null when they fit
 */
export function doubtAbout(
  { volume, area, box, boxTolerance }: Pick<BodyFacts, 'volume' | 'area' | 'box' | 'boxTolerance'>,
  mesh: Pick<BodyMesh, 'positions' | 'triangles' | 'chord'>,
): string | null {
  if (volume === 0) return null;
  const meshed = meshVolume(mesh);
  const sides = sidesOf(box);
  const room = sides.reduce((product, side) => product * (side + 2 * boxTolerance), 1);
  const allowed = area * mesh.chord + SHARE * volume;
  if (Math.abs(meshed - volume) <= allowed && volume <= room * (1 + SHARE)) return null;
  return `Its surfaces give ${cubic(volume)}, its mesh ${cubic(meshed)}, in a box of ${sides
    .map((side) => side.toFixed(1))
    .join(' x ')} mm. These do not fit each other: compare the body with the system that it comes from.`;
}

/** mm³; positive for faces that turn outwards. Sum of the tetrahedra from the first point to every triangle. */
export function meshVolume({ positions, triangles }: Pick<BodyMesh, 'positions' | 'triangles'>): number {
  let sum = 0;
  const [ox, oy, oz] = [positions[0]!, positions[1]!, positions[2]!];
  for (let n = 0; n < triangles.length; n += 3) {
    const [a, b, c] = [triangles[n]! * 3, triangles[n + 1]! * 3, triangles[n + 2]! * 3];
    const [ax, ay, az] = [positions[a]! - ox, positions[a + 1]! - oy, positions[a + 2]! - oz];
    const [bx, by, bz] = [positions[b]! - ox, positions[b + 1]! - oy, positions[b + 2]! - oz];
    const [cx, cy, cz] = [positions[c]! - ox, positions[c + 1]! - oy, positions[c + 2]! - oz];
    sum += ax * (by * cz - bz * cy) - ay * (bx * cz - bz * cx) + az * (bx * cy - by * cx);
  }
  return sum / 6;
}

function cubic(volume: number): string {
  const centimetres = Math.abs(volume) >= 1000;
  const value = centimetres ? volume / 1000 : volume;
  return `${Number(value.toPrecision(4)).toLocaleString('en', { maximumFractionDigits: 3 })} ${centimetres ? 'cm³' : 'mm³'}`;
}
