import { invertRigid, type Matrix4, multiply, placementFromAxes, type Vector3 } from '#core/product/matrix';
import { placementOf, positionOf } from '#core/product/turns';
import { length } from '#core/product/vector';
import { Refusal } from '#core/refusal';

/** How many at most stand in a row or a circle. */
export const MOST_IN_PATTERN = 1000;

/** Around which a circle can be said to be. */
export const AXES = {
  x: [1, 0, 0],
  y: [0, 1, 0],
  z: [0, 0, 1],
} as const satisfies { [name: string]: Vector3 };
export type Axis = keyof typeof AXES;

/** Motions to the further places in a row. @throws Refusal where they would be in one place */
export function stepsAlong(step: Vector3, count: number): Matrix4[] {
  if (length(step) === 0) throw new Refusal('With a step of 0 mm all of them would be in one place.');
  return Array.from({ length: count - 1 }, (_, n) =>
    placementOf([step[0] * (n + 1), step[1] * (n + 1), step[2] * (n + 1)], [0, 0, 0]),
  );
}

/** Motions to the further places in a circle. @throws Refusal where they would be in one place */
export function turnsAround(
  { through, axis, angle }: { through: Vector3; axis: Vector3; angle: number },
  count: number,
): Matrix4[] {
  if (length(axis) === 0) throw new Refusal('The axis of the circle has no direction.');
  if (angle === 0) throw new Refusal('With an angle of 0° all of them would be in one place.');
  // Around the whole circle the last one stands before the first.
  const between = Math.abs(angle) === 360 ? angle / count : angle / (count - 1);
  const frame = placementFromAxes(through, axis);
  const back = invertRigid(frame);
  return Array.from({ length: count - 1 }, (_, n) =>
    multiply(frame, multiply(placementOf([0, 0, 0], [0, 0, between * (n + 1)]), back)),
  );
}

/** Where something is with a position, a turn or both typed; each turns about its own origin. */
export function placementAfter(
  before: Matrix4,
  { position, turn, relative }: { position: Vector3 | null; turn: Vector3 | null; relative: boolean },
): Matrix4 {
  const at = positionOf(before);
  const to: Vector3 = relative
    ? [at[0] + (position?.[0] ?? 0), at[1] + (position?.[1] ?? 0), at[2] + (position?.[2] ?? 0)]
    : (position ?? at);
  const turned =
    turn === null
      ? before
      : relative
        ? multiply(placementOf([0, 0, 0], turn), before)
        : placementOf([0, 0, 0], turn);
  return turned.map((value, n) => (n % 4 === 3 && n < 12 ? to[(n - 3) / 4]! : value));
}
