import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import {
  cast,
  draw,
  drawCircle,
  drawRoundedRectangle,
  makeBaseBox,
  makeCylinder,
  type Shape3D,
} from 'replicad';
import type { OpenCascadeInstance } from 'replicad-opencascadejs';
import { beforeAll, describe, expect, it } from 'vitest';
import { transformPoint } from '#core/product/matrix';
import { scanContent } from '#core/project/scan/content';
import { startModelling } from '#core/testing/step-of-shape';
import type { ShapeFeatures } from '../features';
import { OcctStepFile } from '../occt';
import { featuresOf } from '../occt-features';
import { measureShape } from '../occt-measure';
import { findCongruent, toleranceFor } from './congruence';

let oc: OpenCascadeInstance;
beforeAll(async () => {
  oc = await startModelling();
});

type Maker = (lengthened?: number) => Shape3D;

/** Bodies with fillets, cones, tori and free-form faces; each may be lengthened, mm. */
const BODIES: { [name: string]: Maker } = {
  'a plate with rounded corners and a bore off the middle': (more = 0) =>
    (makeBaseBox(40 + more, 30, 20).fillet(4, (edges) => edges.inDirection('Z')) as Shape3D).cut(
      makeCylinder(4, 40, [5, 3, -5]),
    ) as Shape3D,
  'a block with all edges rounded': (more = 0) => makeBaseBox(40 + more, 30, 20).fillet(3) as Shape3D,
  'half a ring of round section': (more = 0) =>
    (
      drawCircle(4)
        .translate(20 + more / 2, 0)
        .sketchOnPlane('XZ')
        .revolve([0, 0, 1]) as Shape3D
    ).cut(makeBaseBox(80, 80, 60).translate(40, 0, -30)) as Shape3D,
  'a truncated cone': (more = 0) =>
    draw([0, 0])
      .lineTo([20, 0])
      .lineTo([8, 30 + more])
      .lineTo([0, 30 + more])
      .close()
      .sketchOnPlane('XZ')
      .revolve([0, 0, 1]) as Shape3D,
  'a free-form prism': (more = 0) =>
    draw([0, 0])
      .smoothSplineTo([20, 10])
      .smoothSplineTo([40, 0])
      .lineTo([40, -15])
      .lineTo([0, -15])
      .close()
      .sketchOnPlane('XY')
      .extrude(12 + more) as Shape3D,
};
/** Turned as it rises: never its own mirror image. */
const twisted = () =>
  drawRoundedRectangle(30, 14, 3).sketchOnPlane('XY').extrude(40, { twistAngle: 70 }) as Shape3D;

const triple = (most: number) => {
  const value = fc.integer({ min: -most, max: most });
  return fc.tuple(value, value, value);
};
const motion = fc.record({
  angle: fc.double({ min: 0, max: 360, noNaN: true }),
  axis: triple(9).filter((axis) => axis.some((value) => value !== 0)),
  by: triple(900),
});
type Where = { [key in 'axis' | 'by']: [number, number, number] } & { angle: number };
const moved = (shape: Shape3D, { angle, axis, by }: Where) =>
  shape.rotate(angle, [0, 0, 0], axis).translate(by) as Shape3D;

/** What the kernel says of a shape. */
function shapeOf({ wrapped }: Shape3D): ShapeFeatures {
  const { box, ...facts } = measureShape(oc, wrapped as never);
  return {
    ...facts,
    diagonal: Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]),
    features: featuresOf(oc, wrapped as never),
  };
}

const groupsOf = (shapes: ShapeFeatures[]) =>
  findCongruent(shapes).map(({ members }) => members.map(({ body }) => body));

describe('bodies of the kernel', () => {
  it.each(Object.entries(BODIES))('%s is found wherever it was moved', (_, make) => {
    const original = shapeOf(make());
    fc.assert(
      fc.property(motion, (where) => {
        const there = shapeOf(moved(make(), where));
        const [group] = findCongruent([original, there]);
        expect(group!.members).toHaveLength(2);
        // The motion that was found leads each feature to one of the other body.
        const { placement } = group!.members[1]!;
        for (const { kind, at } of original.features) {
          const [x, y, z] = transformPoint(placement, at);
          const off = Math.min(
            ...there.features
              .filter((feature) => feature.kind === kind)
              .map((feature) => Math.hypot(feature.at[0] - x, feature.at[1] - y, feature.at[2] - z)),
          );
          expect(off).toBeLessThan(toleranceFor(original.diagonal));
        }
      }),
      { numRuns: 8 },
    );
  });

  it.each(Object.entries(BODIES))(
    '%s is another shape when it is longer by just over the tolerance',
    (_, make) => {
      const original = shapeOf(make());
      // The difference can be shared between both ends, so twice the tolerance is the most that may fit.
      const tolerance = toleranceFor(original.diagonal);
      fc.assert(
        fc.property(motion, (where) => {
          expect(groupsOf([original, shapeOf(moved(make(2.3 * tolerance), where))])).toEqual([[0], [1]]);
          expect(groupsOf([original, shapeOf(moved(make(0.3 * tolerance), where))])).toEqual([[0, 1]]);
        }),
        { numRuns: 5 },
      );
    },
  );

  // Where two arcs lie on one circle their axis points coincide: to the last digit or not, depending on the turn.
  it.each([
    'azimuth-drive/shaft-seal.stp',
    'azimuth-drive/az-lid_rev-b.stp',
    'elevation/yoke.stp',
    'elevation/clevis-pin_20x90.stp',
    'standard/screw-m8x25.stp',
    'standard/nut-m24.stp',
    'bought/actuator-la-300.stp',
  ])('of the demo are found however they are turned or mirrored: %s', (file) => {
    const bytes = readFileSync(new URL(`../../../../demo/files/hx-12/${file}`, import.meta.url));
    const ids = scanContent(file, bytes).products.flatMap(({ bodies }) => bodies.map(({ id }) => id));
    using step = new OcctStepFile(oc, bytes, new Set(ids));
    for (const id of ids.slice(0, 6)) {
      const body = cast(step.translate(id) as never) as Shape3D;
      const original = shapeOf(body.clone());
      fc.assert(
        fc.property(motion, fc.boolean(), (where, isMirrored) => {
          const there = body.clone();
          const turned = shapeOf(moved(isMirrored ? (there.mirror('YZ') as Shape3D) : there, where));
          expect(turned.features.length).toBe(original.features.length);
          // All of these have a plane of symmetry.
          expect(groupsOf([original, turned])).toEqual([[0, 1]]);
        }),
        { numRuns: 3 },
      );
    }
  });

  it('are not taken for their mirror images, but paired with them', () => {
    fc.assert(
      fc.property(motion, motion, (one, other) => {
        const left = shapeOf(moved(twisted(), one));
        const right = shapeOf(moved(twisted().mirror('XY') as Shape3D, other));
        expect(findCongruent([left, right, left])).toMatchObject([
          { mirrorOf: 1, members: [{ body: 0 }, { body: 2 }] },
          { mirrorOf: 0, members: [{ body: 1 }] },
        ]);
      }),
      { numRuns: 5 },
    );
  });
});
