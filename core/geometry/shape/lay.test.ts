import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  invertRigid,
  isIdentity,
  multiply,
  transformPoint,
  turnDirection,
  type Vector3,
} from '#core/product/matrix';
import { placementOf } from '#core/product/turns';
import { distanceFromLine, dot, offset, unit } from '#core/product/vector';
import type { ExactFace } from './exact';
import { type FacePoint, laidOn, turnAbout } from './lay';

const plane = (at: Vector3, normal: Vector3): FacePoint => ({
  face: { kind: 'plane', area: 1, at, normal: unit(normal) },
  point: at,
});
const hole = (at: Vector3, axis: Vector3): FacePoint => ({
  face: { kind: 'cylinder', area: 1, at, axis: unit(axis), radius: 3 },
  point: offset(at, unit(axis), 5),
});
const ball = (at: Vector3): FacePoint => ({ face: { kind: 'sphere', area: 1, at, radius: 3 }, point: at });
const near = (found: Vector3, wanted: Vector3) => {
  for (const [n, value] of wanted.entries()) expect(found[n]).toBeCloseTo(value, 6);
};

const coordinate = fc.double({ min: -1000, max: 1000, noNaN: true });
const point = fc.tuple(coordinate, coordinate, coordinate) as fc.Arbitrary<Vector3>;
const direction = point.filter((vector) => Math.hypot(...vector) > 1);

describe('laying a face on another', () => {
  it('lays planes so that the bodies face each other, or look the same way', () => {
    fc.assert(
      fc.property(point, direction, point, direction, fc.boolean(), (at, normal, to, other, over) => {
        const [moving, fixed] = [plane(at, normal), plane(to, other)];
        const motion = laidOn(moving, fixed, over)!;
        near(
          turnDirection(motion, unit(normal)),
          unit(other).map((value) => (over ? value : -value)) as never,
        );
        expect(dot(unit(other), transformPoint(motion, at)) - dot(unit(other), to)).toBeCloseTo(0, 6);
        expect(isIdentity(multiply(motion, invertRigid(motion)), 1e-9)).toBe(true);
      }),
    );
  });

  it('moves nothing along the plane, and turns nothing that is parallel', () => {
    const motion = laidOn(plane([3, 4, 10], [0, 0, -1]), plane([0, 0, 2], [0, 0, 1]))!;
    expect(motion).toEqual([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, -8, 0, 0, 0, 1]);
    // What looks the same way is turned over about the point that was pointed at.
    const over = laidOn(plane([3, 4, 10], [0, 0, 1]), plane([0, 0, 2], [0, 0, 1]))!;
    near(transformPoint(over, [3, 4, 10]), [3, 4, 2]);
  });

  it('brings an axis into another one, the nearer way round, and moves nothing along it', () => {
    fc.assert(
      fc.property(point, direction, point, direction, fc.boolean(), (at, axis, to, other, over) => {
        const [moving, fixed] = [hole(at, axis), hole(to, other)];
        const motion = laidOn(moving, fixed, over)!;
        const along = dot(unit(axis), unit(other));
        fc.pre(Math.abs(along) > 1e-6);
        const turned = dot(turnDirection(motion, unit(axis)), unit(other));
        expect(turned).toBeCloseTo(along < 0 === over ? 1 : -1, 9);
        expect(distanceFromLine(transformPoint(motion, at), to, unit(other))).toBeCloseTo(0, 6);
        const pivot = moving.point;
        expect(dot(transformPoint(motion, pivot), unit(other))).toBeCloseTo(dot(pivot, unit(other)), 5);
      }),
    );
  });

  it('keeps a plane that lies on another while a pin goes into its hole', () => {
    const first = laidOn(plane([0, 0, 0], [0, 0, -1]), plane([50, 50, 12], [0, 0, 1]))!;
    const pin = hole(transformPoint(first, [1, 2, 0]), [0, 0, 1]);
    const second = laidOn(pin, hole([40, 30, 0], [0, 0, -1]))!;
    near(transformPoint(multiply(second, first), [1, 2, 0]), [40, 30, 12]);
  });

  it('puts the middle of a ball into a middle or an axis, and an axis onto a ball', () => {
    near(transformPoint(laidOn(ball([1, 2, 3]), ball([9, 9, 9]))!, [1, 2, 3]), [9, 9, 9]);
    near(transformPoint(laidOn(ball([1, 2, 3]), hole([9, 9, 9], [0, 0, 1]))!, [1, 2, 3]), [9, 9, 3]);
    const motion = laidOn(hole([9, 9, 9], [0, 0, 1]), ball([1, 2, 3]))!;
    near(transformPoint(motion, [9, 9, 9]), [1, 2, 9]);
  });

  it('lays no plane on a curve, and nothing on a free form', () => {
    const free: ExactFace = { kind: 'free', area: 1, surface: 'spline' };
    expect(laidOn(plane([0, 0, 0], [0, 0, 1]), hole([0, 0, 0], [0, 0, 1]))).toBeNull();
    expect(laidOn({ face: free, point: [0, 0, 0] }, plane([0, 0, 0], [0, 0, 1]))).toBeNull();
  });
});

describe('a turn about a line', () => {
  it('is the one that is typed about z', () => {
    const turned = turnAbout([0, 0, 5], [0, 0, 1], Math.PI / 6);
    for (const [n, value] of placementOf([0, 0, 0], [0, 0, 30]).entries())
      expect(turned[n]).toBeCloseTo(value, 12);
    near(transformPoint(turnAbout([10, 0, 0], [0, 1, 0], Math.PI), [0, 0, 0]), [20, 0, 0]);
  });
});
