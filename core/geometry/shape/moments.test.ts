import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { principalValues, type SymmetricTensor } from './moments';

/** Up to a thousand, of which eight digits count. */
const value = fc.integer({ min: -1000, max: 1000 });

describe('principal values', () => {
  it('of a diagonal tensor are its entries, the least first', () => {
    fc.assert(
      fc.property(value, value, value, (a, b, c) => {
        const sorted = [a, b, c].sort((x, y) => x - y);
        principalValues([a, b, c, 0, 0, 0]).forEach((found, n) => expect(found).toBeCloseTo(sorted[n]!, 3));
      }),
    );
  });

  it('solve the characteristic equation of any tensor', () => {
    fc.assert(
      fc.property(fc.tuple(value, value, value, value, value, value), (tensor) => {
        const [xx, yy, zz, xy, yz, zx] = tensor as SymmetricTensor;
        const [a, b, c] = principalValues(tensor as SymmetricTensor);
        expect(a <= b + 1e-9 && b <= c + 1e-9).toBe(true);
        // The three invariants: trace, sum of the minors, determinant.
        expect(a + b + c).toBeCloseTo(xx + yy + zz, 6);
        const minors = xx * yy - xy * xy + (yy * zz - yz * yz) + (zz * xx - zx * zx);
        expect((a * b + b * c + c * a - minors) / 1e6).toBeCloseTo(0, 5);
        const determinant = xx * (yy * zz - yz * yz) - xy * (xy * zz - yz * zx) + zx * (xy * yz - yy * zx);
        expect((a * b * c - determinant) / 1e9).toBeCloseTo(0, 5);
      }),
    );
  });
});
