import { bodiesLeft } from '#core/geometry/reduce/decide';
import { FilledSpace } from '#core/geometry/reduce/filled-space';
import { filledBodies, lostFaces, pointsReached } from '#core/geometry/reduce/left';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import type { Vector3 } from '#core/product/matrix';

/** Points on a face. */
const POINTS = 4;

/** Points on what is reached from outside, of bodies that stay. */
export function outsidePoints(reduced: ReducedWhole): Vector3[] {
  return bodiesLeft(reduced.decision).flatMap((n) =>
    pointsReached(reduced.whole, reduced.reach, n, POINTS, () => true),
  );
}

/** The same, only where filling leaves them at the outside. */
export function outsidePointsLeft(reduced: ReducedWhole): Vector3[] {
  const filledOf = filledBodies(reduced);
  const space = new FilledSpace(reduced);
  return bodiesLeft(reduced.decision)
    .flatMap((n) => {
      const isLost = lostFaces(filledOf(n));
      return pointsReached(reduced.whole, reduced.reach, n, POINTS, (face) => !isLost(face));
    })
    .filter((point) => !space.holds(point));
}
