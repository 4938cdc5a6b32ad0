import { describe, expect, it } from 'vitest';
import type { Vector3 } from '#core/product/matrix';
import { holePattern } from './hole-pattern';

const Z: Vector3 = [0, 0, 1];
const circle = (count: number, radius: number): Vector3[] =>
  Array.from({ length: count }, (_, n) => {
    const angle = 0.3 + (2 * Math.PI * n) / count;
    return [5 + radius * Math.cos(angle), radius * Math.sin(angle), 7];
  });
/** Rows and columns, turned by 30 degrees about the normal. */
const grid = (columns: number, rows: number, a: number, b: number): Vector3[] =>
  Array.from({ length: columns * rows }, (_, n) => {
    const [x, y] = [(n % columns) * a, Math.floor(n / columns) * b];
    const [c, s] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
    return [c * x - s * y, s * x + c * y, 0];
  });
const words = (centres: Vector3[], diameter = 9) => holePattern(centres, diameter, Z, 0.01)?.words;

describe('a pattern of equal holes', () => {
  it('is given as a drawing gives it: on a circle, as a rectangle, in rows and columns', () => {
    expect(words(circle(12, 105), 11)).toBe('12 holes ⌀ 11 on ⌀ 210');
    expect(words(circle(3, 20.25), 6.6)).toBe('3 holes ⌀ 6.6 on ⌀ 40.5');
    expect(words(grid(2, 2, 100, 80))).toBe('4 holes ⌀ 9, 100 x 80');
    expect(words(grid(2, 2, 80, 100))).toBe('4 holes ⌀ 9, 100 x 80');
    expect(words(grid(2, 2, 70, 70))).toBe('4 holes ⌀ 9 on ⌀ 98.99');
    expect(words(grid(3, 2, 50, 40))).toBe('6 holes ⌀ 9 in 3 x 2, 50 and 40 apart');
    expect(holePattern(grid(3, 2, 50, 40), 9, Z, 0.01)?.extent).toBeCloseTo(Math.hypot(100, 40));
  });

  it('is none of two holes, of uneven ones, of one that is missing, nor of a perforated plate', () => {
    expect(words(circle(2, 40))).toBeUndefined();
    expect(words([...circle(5, 40), [5, 0, 7]])).toBeUndefined();
    expect(words(grid(3, 2, 50, 40).slice(1))).toBeUndefined();
    expect(
      words([
        [0, 0, 0],
        [10, 0, 0],
        [35, 0, 0],
        [0, 8, 0],
        [10, 8, 0],
        [35, 8, 0],
      ]),
    ).toBeUndefined();
    expect(words(grid(20, 11, 5, 5))).toBeUndefined();
    // Two holes in one place.
    expect(
      words([
        [0, 0, 0],
        [0, 0, 0],
        [4, 0, 0],
      ]),
    ).toBeUndefined();
  });
});
