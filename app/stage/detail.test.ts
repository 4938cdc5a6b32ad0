import { describe, expect, it } from 'vitest';
import { type DetailedBody, decideDetail, NOT_DRAWN, type Sight } from './detail';

const LEVELS = [
  { triangles: 1000, error: 0 },
  { triangles: 100, error: 1 },
  { triangles: 12, error: 4 },
];
/** A body of 10 mm across at each distance along y, seen from the origin. */
const bodyAt = (...places: [number, number, number][]): DetailedBody => ({
  levels: LEVELS,
  spheres: Float32Array.from(places.flatMap((place) => [...place, 5])),
  decided: new Int8Array(places.length),
  withEdges: new Uint8Array(places.length),
});
/** All that lies before the eye. */
const SIGHT: Sight = { at: [0, 0, 0], pixels: 1000, planes: Float32Array.of(0, 1, 0, 0) };
const ENOUGH = { triangles: 1e6, tolerance: 1 };

describe('the decision about detail', () => {
  it('draws what is near finely, what is far coarsely, and nothing of what is too small or behind', () => {
    const body = bodyAt([0, 100, 0], [0, 1100, 0], [0, 5000, 0], [0, 50_000, 0], [0, -100, 0]);
    expect(decideDetail([body], SIGHT, ENOUGH)).toEqual({ triangles: 1112, isFine: true });
    expect([...body.decided]).toEqual([0, 1, 2, NOT_DRAWN, NOT_DRAWN]);
    expect([...body.withEdges]).toEqual([1, 0, 0, 0, 0]);
  });

  it('keeps to its budget, coarser where it must, and says so', () => {
    const near = Array.from({ length: 50 }, (_, n): [number, number, number] => [n * 11, 300, 0]);
    const body = bodyAt(...near);
    const free = decideDetail([body], SIGHT, ENOUGH);
    expect(free).toEqual({ triangles: 50_000, isFine: true });
    for (const triangles of [20_000, 4000, 700]) {
      const tight = decideDetail([body], SIGHT, { ...ENOUGH, triangles });
      expect(tight.isFine).toBe(false);
      expect(tight.triangles).toBeLessThanOrEqual(triangles);
      expect(tight.triangles).toBe(
        [...body.decided].reduce(
          (sum, level) => sum + (level === NOT_DRAWN ? 0 : LEVELS[level]!.triangles),
          0,
        ),
      );
    }
  });

  it('draws what one stands within', () => {
    const body = bodyAt([0, 1, 0]);
    decideDetail([body], SIGHT, ENOUGH);
    expect([...body.decided]).toEqual([0]);
  });
});
