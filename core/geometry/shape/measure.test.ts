import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { multiply, placementFromAxes } from '#core/product/matrix';
import type { ExactEdge, ExactFace, ExactPoint } from './exact';
import {
  between,
  distanceToEdge,
  type Figure,
  figuresOf,
  type Measurable,
  nameOf,
  placed,
  pointsOf,
} from './measure';

const plane = (z: number, normal: ExactPoint = [0, 0, 1]): Measurable => ({
  what: 'face',
  face: { kind: 'plane', area: 10, at: [5, -3, z], normal },
});
const cylinder = (x: number, y: number, radius = 4, axis: ExactPoint = [0, 0, 1]): Measurable => ({
  what: 'face',
  face: { kind: 'cylinder', area: 10, at: [x, y, 7], axis, radius },
});
const point = (...at: [number, number, number]): Measurable => ({ what: 'point', at });
const line = (from: ExactPoint, to: ExactPoint): Measurable => ({
  what: 'edge',
  edge: { kind: 'line', from, to, length: Math.hypot(...from.map((value, n) => value - to[n]!)) },
});
const ARC: ExactEdge = {
  kind: 'circle',
  at: [0, 0, 0],
  axis: [0, 0, 1],
  radius: 10,
  from: [10, 0, 0],
  to: [0, 10, 0],
  middle: [Math.SQRT1_2 * 10, Math.SQRT1_2 * 10, 0],
  length: 5 * Math.PI,
};
const FREE: Measurable = { what: 'face', face: { kind: 'free', area: 12, surface: 'bsplinesurface' } };
const short = (figures: Figure[]) =>
  figures.map(({ words, value, unit }) => [words, Math.round(value * 1e6) / 1e6, unit]);

describe('what is measured on one thing', () => {
  it('is called by its name, with its own figures', () => {
    expect([nameOf(plane(0)), short(figuresOf(plane(0)))]).toEqual(['Plane', [['Area', 10, 'mm²']]]);
    expect(short(figuresOf(cylinder(0, 0)))).toEqual([
      ['Diameter', 8, 'mm'],
      ['Radius', 4, 'mm'],
      ['Area', 10, 'mm²'],
    ]);
    expect([
      nameOf({ what: 'edge', edge: ARC }),
      short(figuresOf({ what: 'edge', edge: ARC })).at(-1),
    ]).toEqual(['Arc', ['Length', 15.707963, 'mm']]);
    expect(nameOf({ what: 'edge', edge: { ...ARC, to: ARC.from } })).toBe('Circle');
    expect(short(figuresOf(line([0, 0, 0], [3, 4, 0])))).toEqual([['Length', 5, 'mm']]);
    expect(short(figuresOf(point(1, 2, 3)))).toEqual([
      ['x', 1, 'mm'],
      ['y', 2, 'mm'],
      ['z', 3, 'mm'],
    ]);
    const cone: ExactFace = {
      kind: 'cone',
      area: 1,
      at: [0, 0, 0],
      axis: [0, 0, 1],
      radius: 3,
      halfAngle: Math.PI / 4,
    };
    expect(short(figuresOf({ what: 'face', face: cone }))[0]).toEqual(['Angle of the cone', 90, '°']);
  });
});

describe('what is measured between two things', () => {
  it.each<[string, Measurable, Measurable, unknown[]]>([
    [
      'planes that face each other',
      plane(0),
      plane(12, [0, 0, -1]),
      [
        ['Between the planes', 12, 'mm'],
        ['Angle', 0, '°'],
      ],
    ],
    ['planes at an angle', plane(0), plane(12, [0, Math.SQRT1_2, Math.SQRT1_2]), [['Angle', 45, '°']]],
    [
      'holes',
      cylinder(0, 0),
      cylinder(30, 40),
      [
        ['Between the axes', 50, 'mm'],
        ['Angle', 0, '°'],
      ],
    ],
    [
      'axes that pass each other',
      cylinder(0, 0),
      cylinder(9, 5, 1, [1, 0, 0]),
      [
        ['Between the axes', 5, 'mm'],
        ['Angle', 90, '°'],
      ],
    ],
    [
      'an axis along a plane',
      cylinder(0, 0, 4, [1, 0, 0]),
      plane(0),
      [
        ['From the axis to the plane', 7, 'mm'],
        ['Angle', 0, '°'],
      ],
    ],
    ['an axis that meets a plane', cylinder(0, 0), plane(0), [['Angle', 90, '°']]],
    ['a point and a plane', plane(3), point(0, 0, 10), [['From the plane to the point', 7, 'mm']]],
    [
      'an edge and a point past its end',
      line([0, 0, 0], [10, 0, 0]),
      point(13, 4, 0),
      [['From the edge to the point', 5, 'mm']],
    ],
    [
      'edges that miss each other',
      line([0, 0, 0], [10, 0, 0]),
      line([20, 0, 0], [20, 5, 0]),
      [
        ['Between the edges', 10, 'mm'],
        ['Angle', 90, '°'],
      ],
    ],
    [
      'points',
      point(1, 1, 1),
      point(4, 5, 1),
      [
        ['Between the points', 5, 'mm'],
        ['along x', 3, 'mm'],
        ['along y', 4, 'mm'],
        ['along z', 0, 'mm'],
      ],
    ],
    [
      'arcs',
      { what: 'edge', edge: ARC },
      { what: 'edge', edge: { ...ARC, at: [0, 6, 8] } },
      [
        ['Between the centres', 10, 'mm'],
        ['along x', 0, 'mm'],
        ['along y', 6, 'mm'],
        ['along z', 8, 'mm'],
        ['Angle', 0, '°'],
      ],
    ],
    ['a free form', FREE, plane(0), []],
  ])('%s', (_, a, b, figures) => {
    expect(short(between(a, b))).toEqual(figures);
  });

  const number = fc.double({ min: -50, max: 50, noNaN: true });
  const vector = fc.tuple(number, number, number);
  const direction = vector
    .filter((v) => Math.hypot(...v) > 1)
    .map((v) => v.map((x) => x / Math.hypot(...v)) as [number, number, number]);
  const thing: fc.Arbitrary<Measurable> = fc.oneof(
    vector.map((at): Measurable => ({ what: 'point', at })),
    fc
      .tuple(vector, direction)
      .map(([at, normal]): Measurable => ({ what: 'face', face: { kind: 'plane', area: 1, at, normal } })),
    fc.tuple(vector, direction).map(
      ([at, axis]): Measurable => ({
        what: 'face',
        face: { kind: 'cylinder', area: 1, at, axis, radius: 2 },
      }),
    ),
    fc
      .tuple(vector, vector)
      .filter(([a, b]) => Math.hypot(...a.map((x, n) => x - b[n]!)) > 0.1)
      .map(([from, to]) => line(from, to)),
  );

  it('is the same from either side, and wherever both are moved', () => {
    fc.assert(
      fc.property(thing, thing, vector, direction, direction, (a, b, origin, axis, other) => {
        fc.pre(Math.abs(axis[0] * other[0] + axis[1] * other[1] + axis[2] * other[2]) < 0.99);
        const values = (figures: Figure[]) =>
          figures.filter(({ words }) => !words.startsWith('along')).map(({ value }) => value);
        const here = values(between(a, b));
        const move = multiply(placementFromAxes(origin, axis, other), placementFromAxes([1, 2, 3]));
        for (const there of [values(between(b, a)), values(between(placed(a, move), placed(b, move)))]) {
          expect(there.length).toBe(here.length);
          there.forEach((value, n) => expect(value).toBeCloseTo(here[n]!, 5));
        }
      }),
    );
  });

  it('runs between points that lie on both, and nothing on edges is nearer', () => {
    fc.assert(
      fc.property(
        vector,
        vector,
        vector,
        vector,
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (a, b, c, d, s, t) => {
          fc.pre(
            [
              [a, b],
              [c, d],
            ].every(([p, q]) => Math.hypot(...p!.map((x, n) => x - q![n]!)) > 0.1),
          );
          const [figure] = between(line(a, b), line(c, d));
          const mix = (p: ExactPoint, q: ExactPoint, part: number) => p.map((x, n) => x + part * (q[n]! - x));
          const any = Math.hypot(...mix(a, b, s).map((x, n) => x - mix(c, d, t)[n]!));
          expect(figure!.value).toBeLessThanOrEqual(any + 1e-6);
          expect(Math.hypot(...figure!.from!.map((x, n) => x - figure!.to![n]!))).toBeCloseTo(
            figure!.value,
            6,
          );
        },
      ),
    );
  });
});

describe('points of an edge', () => {
  it('lie on it, on the side of its middle', () => {
    for (const sense of [1, -1]) {
      const turned: ExactEdge = {
        ...ARC,
        axis: [0, 0, sense],
        ...(sense < 0 && { from: ARC.to, to: ARC.from }),
      };
      const points = pointsOf(turned);
      for (const p of points) {
        expect(Math.hypot(...p)).toBeCloseTo(10, 9);
        expect(Math.min(p[0], p[1])).toBeGreaterThan(-1e-9);
      }
      expect(points.at(-1)!.map((x) => Math.round(x))).toEqual([...turned.to]);
    }
    expect(distanceToEdge(ARC, [20, 0, 0])).toBeCloseTo(10, 9);
    expect(distanceToEdge(ARC, [0, 0, 3])).toBeGreaterThan(10);
  });
});
