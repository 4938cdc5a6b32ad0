import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readPose, writePose } from './pose-address';

const places = fc.tuple(
  ...([0, 0, 0].map(() => fc.double({ min: -1e6, max: 1e6, noNaN: true })) as [
    fc.Arbitrary<number>,
    fc.Arbitrary<number>,
    fc.Arbitrary<number>,
  ]),
);

describe('where one looks from, in an address', () => {
  it('comes back, as fine as a millionth of its size, in few letters', () => {
    fc.assert(
      fc.property(places, places, (at, target) => {
        fc.pre(Math.hypot(...at.map((value, n) => value - target[n]!)) > 10);
        const read = readPose(writePose({ at, target }))!;
        const size = Math.max(...[...at, ...target].map(Math.abs));
        for (const [n, value] of [...at, ...target].entries())
          expect(Math.abs([...read.at, ...read.target][n]! - value)).toBeLessThanOrEqual(1e-6 * size);
      }),
    );
  });

  it('has no rests of rounding in it', () => {
    expect(writePose({ at: [2815.4634, -4.5e-13, 1e-9], target: [0.25, 0, -0] })).toBe(
      '2815.463,0,0,0.25,0,0',
    );
  });

  it('is none where the address says something else', () => {
    for (const text of [
      null,
      '',
      '1,2,3',
      '1,2,3,4,5,x',
      '1,2,3,1,2,3',
      '1,2,3,4,5,',
      '1e99,0,0,0,0,0',
      '0,0,0,0,0,NaN',
    ])
      expect(readPose(text)).toBeNull();
  });
});
