import { bodiesLeft } from '#core/geometry/reduce/decide';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { filledBodies, lostFaces, pointsReached } from '#core/geometry/reduce/report';
import type { Vector3 } from '#core/product/matrix';

/** Points on a face. */
const POINTS = 4;

/** Points on what is reached from outside, of bodies that stay. @param isLeft only on faces that filling leaves */
export function outsidePoints({ whole, reach, decision, filled }: ReducedWhole, isLeft: boolean): Vector3[] {
  const filledOf = filledBodies(whole, filled);
  return bodiesLeft(decision).flatMap((n) => {
    const isLost = lostFaces(isLeft ? filledOf(n) : undefined);
    return pointsReached(whole, reach, n, POINTS, (face) => !isLost(face));
  });
}
