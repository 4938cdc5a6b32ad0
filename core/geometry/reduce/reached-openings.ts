import { COARSE } from '#core/geometry/reach/grid';
import { ReachField, standingMeshes } from '#core/geometry/reach/reached';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { centreOf, cornersOf, normalOf } from '#core/geometry/shape/triangles';
import { boxOfBodies, meshOfBody } from '#core/geometry/whole/whole';
import type { Progress } from '#core/planning';
import { transformPoint, turnDirection, type Vector3 } from '#core/product/matrix';
import { bodiesLeft } from './decide';
import { FilledSpace } from './filled-space';
import type { ReducedWhole } from './reduced-whole';

/** Points of a face that are tried. */
const POINTS = 60;

/** A place on a face of a body that stays, in an opening of another body. */
interface Guest {
  opening: string;
  at: Vector3;
  normal: Vector3;
}

/**
 * Openings that were filled since nobody reaches their walls, although one gets into them: what stands in them has an opening of its own,
 * such as a bush in a bore. They have to stay open.
 * @returns keys of openings, by `openingKey`
 */
export async function reachedOpenings(reduced: ReducedWhole, progress?: Progress): Promise<Set<string>> {
  const { whole, gap } = reduced;
  const guests = guestsIn(reduced);
  // Rolling a ball around it takes seconds.
  if (guests.length === 0) return new Set();
  const meshes = standingMeshes(whole).filter((mesh) => mesh !== null);
  const field = await ReachField.roll(meshes, whole.box, gap, progress, COARSE);
  return new Set(guests.flatMap(({ opening, at, normal }) => (field.isReached(at, normal) ? [opening] : [])));
}

/** Places on faces that are reached somewhere, in openings that were filled. */
function guestsIn(reduced: ReducedWhole): Guest[] {
  const { whole, reachLeft: reach, decision } = reduced;
  const space = new FilledSpace(reduced);
  const guests: Guest[] = [];
  for (const n of bodiesLeft(decision)) {
    const mesh = meshOfBody(whole, n);
    if (!mesh || !reach.reached.faces[n]!.includes(1)) continue;
    const places = space.placesBeside(boxOfBodies(whole, [n])).filter((place) => place.n !== n);
    if (places.length === 0) continue;
    const finest = finestMesh(mesh);
    const { placement } = whole.bodies[n]!;
    for (const [face, isReached] of reach.reached.faces[n]!.entries()) {
      if (isReached === 0) continue;
      const [from, count] = [mesh.faceGroups[2 * face]! / 3, mesh.faceGroups[2 * face + 1]! / 3];
      const step = Math.max(1, Math.ceil(count / POINTS));
      for (let k = from; k < from + count; k += step) {
        const triangle = cornersOf(finest, k);
        const at = transformPoint(placement, centreOf(triangle));
        for (const opening of space.openingsAt(at, places))
          guests.push({ opening, at, normal: turnDirection(placement, normalOf(triangle)) });
      }
    }
  }
  return guests;
}
