import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { transformPoint } from './matrix';
import { placementOf, positionOf, turnOf } from './turns';

const angle = fc.oneof(fc.double({ min: -180, max: 180, noNaN: true }), fc.constantFrom(0, 90, -90, 180, 45));

describe('placements as people type them', () => {
  it('turn about x, then y, then z', () => {
    const placed = placementOf([10, 20, 30], [90, 90, 0]);
    // y goes to z about x, and z to x about y.
    expect(transformPoint(placed, [0, 1, 0])).toEqual([11, 20, 30]);
    expect(transformPoint(placementOf([0, 0, 0], [0, 0, 90]), [1, 0, 0])).toEqual([0, 1, 0]);
  });

  it('say again what they were made of', () => {
    fc.assert(
      fc.property(angle, angle, angle, (a, b, c) => {
        const placed = placementOf([1, 2, 3], [a, b, c]);
        const again = placementOf(positionOf(placed), turnOf(placed));
        for (const [n, value] of placed.entries()) expect(again[n]).toBeCloseTo(value, 9);
      }),
    );
  });
});
