import type { Point } from '#core/geometry/shape/cut';

/** Sides of a model, along x, y and z: the positive one first. */
const SIDES = [
  ['the right', 'the left'],
  ['the back', 'the front'],
  ['above', 'below'],
] as const;

/** Less of a direction than this is not said: about 15°. */
const LEAST = 0.26;

/**
 * Which way one looks at the model, in words. Up is z, and the front is where one looks along y.
 * @param towards from what is looked at to the eye
 * @example seenFrom([0.5, -0.7, 0.5]) // 'Seen from the front, the right and above'
 */
export function seenFrom(towards: Point): string {
  const length = Math.hypot(...towards);
  if (length === 0) return '';
  const sides = towards
    .map((value, axis) => ({ part: Math.abs(value) / length, side: SIDES[axis]![value > 0 ? 0 : 1] }))
    .filter(({ part }) => part > LEAST)
    .sort((a, b) => b.part - a.part)
    .map(({ side }) => side);
  const [last, ...others] = [...sides].reverse();
  return `Seen from ${others.length > 0 ? `${others.reverse().join(', ')} and ${last}` : last}`;
}
