import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { axisOf, readSection, turned, writeSection } from './section-address';

describe('a section in an address', () => {
  it('is short across an axis, and names the direction along a face', () => {
    expect(writeSection({ normal: [0, -1, 0], at: 12.5 })).toBe('-y:12.5');
    expect(writeSection({ normal: [0.6, 0.8, 0], at: 40.00049 })).toBe('0.6,0.8,0:40');
    expect(readSection('-y:12.5')).toEqual({ normal: [0, -1, 0], at: 12.5 });
    expect(axisOf([0, -1, 0])).toBe('y');
    expect(axisOf([0.6, 0.8, 0])).toBeNull();
    // Nearly along an axis is not along it: a metre away that is a hundredth of a millimetre.
    expect(axisOf([0, 1, 1.6e-5])).toBeNull();
  });

  it('comes back as it was written', () => {
    const number = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        number,
        number,
        number,
        fc.double({ min: -9999, max: 9999, noNaN: true }),
        (x, y, z, at) => {
          const length = Math.hypot(x, y, z);
          fc.pre(length > 0.1);
          const plane = { normal: [x / length, y / length, z / length] as const, at };
          const read = readSection(writeSection(plane))!;
          read.normal.forEach((value, n) => expect(value).toBeCloseTo(plane.normal[n]!, 5));
          expect(read.at).toBeCloseTo(at, 2);
          expect(readSection(writeSection(turned(turned(plane))))).toEqual(read);
        },
      ),
    );
  });

  it.each([null, '', 'y', 'w:3', 'y:', 'y:x', '1,0:3', '0,0,0:3', '1,2,3,4:5', 'y:1:2', 'NaN,0,1:2'])(
    'is none in %s',
    (text) => {
      expect(readSection(text)).toBeNull();
    },
  );
});
