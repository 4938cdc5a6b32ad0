import type { Vector3 } from '#core/product/matrix';
import { add, cross, length, scale, subtract, unit } from '#core/product/vector';

/** Vertices as x, y, z in a row, mm, and triangles as positions of theirs. */
export interface Triangles {
  positions: ArrayLike<number>;
  triangles: ArrayLike<number>;
}

export type Triangle = [a: Vector3, b: Vector3, c: Vector3];

/** The corners of one triangle. @param n which, from 0 */
export function cornersOf({ positions, triangles }: Triangles, n: number): Triangle {
  const corner = (k: number): Vector3 => {
    const at = 3 * triangles[3 * n + k]!;
    return [positions[at]!, positions[at + 1]!, positions[at + 2]!];
  };
  return [corner(0), corner(1), corner(2)];
}

/** At right angles to a triangle and twice as long as its area: outwards where its corners go round against the clock. */
function spanOf([a, b, c]: Triangle): Vector3 {
  return cross(subtract(b, a), subtract(c, a));
}

/** Of length 1; the null vector for a triangle without area. */
export function normalOf(triangle: Triangle): Vector3 {
  return unit(spanOf(triangle));
}

/** mm². */
export function areaOf(triangle: Triangle): number {
  return length(spanOf(triangle)) / 2;
}

export function centreOf([a, b, c]: Triangle): Vector3 {
  return scale(add(add(a, b), c), 1 / 3);
}
