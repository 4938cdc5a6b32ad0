import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { transformPoint, type Vector3 } from '#core/product/matrix';
import type { ShapeFeature, ShapeFeatures } from '../features';
import { findCongruent, toleranceFor } from './congruence';
import { findMotion } from './motion';

const KINDS = ['vertex', 'edge line', 'edge circle', 'face plane', 'face cylinder'];
const coordinate = fc.integer({ min: -1000, max: 1000 }).map((n) => n / 10);
const point = fc.tuple(coordinate, coordinate, coordinate);
const feature = fc
  .tuple(fc.constantFrom(...KINDS), fc.integer({ min: 1, max: 4 }), point)
  .map(
    ([kind, size, at]): ShapeFeature => ({ kind, size: kind === 'vertex' ? 0 : size * 10, radius: 0, at }),
  );

function shapeOf(features: ShapeFeature[]): ShapeFeatures {
  const centre = [0, 1, 2].map((n) => features.reduce((sum, { at }) => sum + at[n]!, 0) / features.length);
  return {
    volume: 1000,
    area: 600,
    centre: centre as [number, number, number],
    moments: [900, 1000, 1100],
    diagonal: 300,
    features,
  };
}

/** A body whose features are all over the place: no symmetry, not flat. */
const crooked = fc
  .uniqueArray(feature, { minLength: 6, maxLength: 30, selector: ({ at }) => at.join() })
  .map(shapeOf)
  .filter(({ features, centre }) => volumeSpanned(features, centre) > 1000);

/** The largest box spanned by the centre and three features: nothing when all is flat. */
function volumeSpanned(features: ShapeFeature[], centre: readonly number[]): number {
  const arms = features.map(({ at }) => at.map((value, n) => value - centre[n]!));
  let most = 0;
  for (const a of arms)
    for (const b of arms)
      for (const c of arms)
        most = Math.max(
          most,
          Math.abs(
            a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) -
              a[1]! * (b[0]! * c[2]! - b[2]! * c[0]!) +
              a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!),
          ),
        );
  return most;
}

const angle = fc.integer({ min: 0, max: 359 }).map((degrees) => (degrees * Math.PI) / 180);
const motion = fc.tuple(angle, angle, angle, point).map(([a, b, c, shift]) => {
  const [ca, sa, cb, sb, cc, sc] = [a, b, c].flatMap((turn) => [Math.cos(turn), Math.sin(turn)]) as number[];
  return [
    ca! * cb!,
    ca! * sb! * sc! - sa! * cc!,
    ca! * sb! * cc! + sa! * sc!,
    shift[0],
    sa! * cb!,
    sa! * sb! * sc! + ca! * cc!,
    sa! * sb! * cc! - ca! * sc!,
    shift[1],
    -sb!,
    cb! * sc!,
    cb! * cc!,
    shift[2],
    0,
    0,
    0,
    1,
  ];
});
const MIRROR = [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

function moved({ features, centre, ...rest }: ShapeFeatures, matrix: readonly number[]): ShapeFeatures {
  const move = (at: Vector3) => [...transformPoint(matrix, at)] as [number, number, number];
  return {
    ...rest,
    centre: move(centre),
    features: [...features].reverse().map((entry) => ({ ...entry, at: move(entry.at) })),
  };
}

const TOLERANCE = toleranceFor(300);

describe('motion', () => {
  it('is found for any body moved by any motion, and takes every feature where it belongs', () => {
    fc.assert(
      fc.property(crooked, motion, (shape, matrix) => {
        const found = findMotion(shape, moved(shape, matrix), TOLERANCE);
        expect(found?.mirrored).toBe(false);
        for (const { at } of shape.features) {
          const [here, there] = [transformPoint(found!.matrix, at), transformPoint(matrix, at)];
          expect(Math.hypot(...here.map((value, n) => value - there[n]!))).toBeLessThan(TOLERANCE);
        }
      }),
    );
  });

  it('is not found when one feature is off by more than the tolerance', () => {
    fc.assert(
      fc.property(crooked, motion, fc.nat(), fc.constantFrom(0, 1, 2), (shape, matrix, which, axis) => {
        const other = moved(shape, matrix);
        const at = other.features[which % other.features.length]!.at;
        at[axis]! += 2.5 * TOLERANCE;
        expect(findMotion(shape, other, TOLERANCE)).toBeUndefined();
      }),
    );
  });

  it('never takes a mirror image for the same, and finds the reflection', () => {
    fc.assert(
      fc.property(crooked, motion, (shape, matrix) => {
        const image = moved(moved(shape, MIRROR), matrix);
        expect(findMotion(shape, image, TOLERANCE)).toBeUndefined();
        expect(findMotion(shape, image, TOLERANCE, true)?.mirrored).toBe(true);
        expect(findCongruent([shape, image])).toMatchObject([{ mirrorOf: 1 }, { mirrorOf: 0 }]);
      }),
    );
  });

  it('is found for symmetric bodies: cubes, rods, balls', () => {
    const corners = Array.from(
      { length: 8 },
      (_, n): ShapeFeature => ({
        kind: 'vertex',
        size: 0,
        radius: 0,
        at: [n & 1 ? 50 : -50, n & 2 ? 50 : -50, n & 4 ? 50 : -50],
      }),
    );
    const circle = (z: number): ShapeFeature => ({
      kind: 'edge circle',
      size: 60,
      radius: 9.5,
      at: [0, 0, z],
    });
    const ball: ShapeFeature = { kind: 'face sphere', size: 100, radius: 3, at: [0, 0, 0] };
    for (const features of [corners, [circle(-40), circle(40)], [circle(-40), circle(70)], [ball]]) {
      const shape = shapeOf(features);
      fc.assert(
        fc.property(motion, (matrix) => {
          expect(findMotion(shape, moved(shape, matrix), TOLERANCE)).toBeDefined();
        }),
        { numRuns: 30 },
      );
    }
  });
});

describe('groups', () => {
  it('put the same shapes together, each where it is, and keep keys apart', () => {
    fc.assert(
      fc.property(crooked, crooked, motion, motion, (a, b, one, two) => {
        fc.pre(a.features.length !== b.features.length);
        const bodies = [a, b, moved(a, one), moved(b, two), moved(a, two)];
        const groups = findCongruent(bodies);
        expect(groups.map(({ members }) => members.map(({ body }) => body))).toEqual([
          [0, 2, 4],
          [1, 3],
        ]);
        const apart = findCongruent(bodies, { keyOf: (body) => (body === 4 ? 'red' : '') });
        expect(apart.map(({ members }) => members.map(({ body }) => body))).toEqual([[0, 2], [1, 3], [4]]);
      }),
      { numRuns: 30 },
    );
  });

  it('take the uncertainty of the file as the least tolerance', () => {
    expect(toleranceFor(10, { least: 0.01 })).toBe(0.01);
    expect(toleranceFor(1000, { least: 0.01 })).toBe(0.1);
  });
});
