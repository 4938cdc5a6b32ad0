import type { Vector3 } from './matrix';

/** Smallest and largest x, y, z, mm. */
export type Box = [number, number, number, number, number, number];

/** A box around nothing; it grows. */
export function emptyBox(): Box {
  return [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
}

/** Widens a box so that a point is in it. */
export function growBox(box: Box, point: ArrayLike<number>): void {
  for (let axis = 0; axis < 3; axis++) {
    const value = point[axis]!;
    if (value < box[axis]!) box[axis] = value;
    if (value > box[axis + 3]!) box[axis + 3] = value;
  }
}

/** The box around points that stand in a row: x, y, z, and again. */
export function boxOfPositions(positions: ArrayLike<number>): Box {
  const box = emptyBox();
  for (let at = 0; at < positions.length; at++) {
    const [value, axis] = [positions[at]!, at % 3];
    if (value < box[axis]!) box[axis] = value;
    if (value > box[axis + 3]!) box[axis + 3] = value;
  }
  return box;
}

/** mm; 0 for a box around nothing. */
export function diagonalOf(box: readonly number[]): number {
  const [a, b, c, d, e, f] = box as Box;
  return a > d ? 0 : Math.hypot(d - a, e - b, f - c);
}

/** Along x, y and z, mm. */
export function sidesOf(box: readonly number[]): Vector3 {
  const [a, b, c, d, e, f] = box as Box;
  return [d - a, e - b, f - c];
}

export function middleOf(box: readonly number[]): Vector3 {
  const [a, b, c, d, e, f] = box as Box;
  return [(a + d) / 2, (b + e) / 2, (c + f) / 2];
}

/** How far the sides of two boxes are apart at most, mm. */
export function boxOff(one: readonly number[], other: readonly number[]): number {
  return Math.max(...one.map((value, n) => Math.abs(value - other[n]!)));
}

/** Whether a box lies within another. @param slack how far it may stand out, mm */
export function isBoxIn(inner: Box, outer: Box, slack = 0): boolean {
  return [0, 1, 2].every((n) => inner[n]! > outer[n]! - slack && inner[n + 3]! < outer[n + 3]! + slack);
}

/** Whether two boxes have a point in common. @param slack how far they may be apart, mm */
export function doBoxesMeet(a: readonly number[], b: readonly number[], slack = 0): boolean {
  return [0, 1, 2].every((n) => a[n]! <= b[n + 3]! + slack && b[n]! <= a[n + 3]! + slack);
}
