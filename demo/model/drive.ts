import { drawCircle, drawRoundedRectangle, makeBaseBox, type Shape3D, sketchHelix } from 'replicad';
import { around, cutAll, cylinder, type DemoPart, fuseAll, one, PAINT, prism, ring, turned } from './kit';

/** Where the lid's twelve screws sit, in the housing's plane. */
export const LID_SCREWS: readonly [number, number][] = [
  ...[-165, -55, 55, 165].flatMap((x): [number, number][] => [
    [x, -132],
    [x, 132],
  ]),
  ...[-60, 60].flatMap((y): [number, number][] => [
    [-192, y],
    [192, y],
  ]),
];

/** The four screws of the motor, in its own plane. */
export const MOTOR_SCREWS: readonly [number, number][] = around(4, 46, 45);

/** The eight screws that hold the housing on the pedestal. */
export const FOOT_SCREWS: readonly [number, number][] = around(8, 122, 22.5);

/** The bolt circle of the output flange. */
export const FLANGE_BOLTS: readonly [number, number][] = around(12, 105, 15);

const WORM_Y = -118;

/** Height of the worm's axis above the foot of the housing. */
export const WORM_AXIS = { y: WORM_Y, z: 78 };

function housing(): Shape3D {
  const outside = makeBaseBox(420, 300, 160).fillet(26, (edge) => edge.inDirection('Z')) as Shape3D;
  const worm = cylinder(44, 430, [-215, WORM_Y, WORM_AXIS.z], [1, 0, 0]);
  const foot = ring(165, 80, 18);
  const pad = makeBaseBox(24, 116, 116).translate([216, WORM_Y, WORM_AXIS.z - 58]) as Shape3D;
  const ribs = [-120, 0, 120].map((x) => makeBaseBox(10, 12, 120).translate([x, 153, 20]) as Shape3D);
  const body = fuseAll(outside, [worm, foot, pad, ...ribs]);

  const pocket = drawRoundedRectangle(372, 252, 18).sketchOnPlane('XY', 16).extrude(160) as Shape3D;
  const hollow = body.cut(pocket) as Shape3D;
  const bosses = LID_SCREWS.map(([x, y]) => cylinder(12, 144, [x, y, 16]));
  const wormTunnel = cylinder(36, 372, [-186, WORM_Y, WORM_AXIS.z], [1, 0, 0]);
  const solid = fuseAll(hollow, [...bosses, cylinder(92, 22, [0, 0, 16])]);
  return cutAll(solid, [
    cylinder(70, 24, [0, 0, 14]),
    cylinder(56, 60, [0, 0, -10]),
    wormTunnel,
    cylinder(23.5, 480, [-240, WORM_Y, WORM_AXIS.z], [1, 0, 0]),
    ...LID_SCREWS.map(([x, y]) => cylinder(2.6, 24, [x, y, 137])),
    ...FOOT_SCREWS.map(([x, y]) => cylinder(4.5, 30, [x, y, -5])),
    ...MOTOR_SCREWS.map(([y, z]) => cylinder(2.6, 20, [212, WORM_Y + y, WORM_AXIS.z + z], [1, 0, 0])),
  ]);
}

function lid(): Shape3D {
  const plate = drawRoundedRectangle(420, 300, 26).sketchOnPlane('XY').extrude(14) as Shape3D;
  const collar = fuseAll(plate, [cylinder(96, 40)]).fillet(3, (edge) => edge.inPlane('XY', 14)) as Shape3D;
  return cutAll(collar, [
    cylinder(70, 25, [0, 0, -1]),
    cylinder(56, 50, [0, 0, -5]),
    ...LID_SCREWS.flatMap(([x, y]) => [cylinder(3.3, 20, [x, y, -2]), cylinder(6, 10, [x, y, 8])]),
  ]);
}

/** Straight-sided teeth: near enough to the involute for a picture, and every flank is a plane. */
function ringGear(): Shape3D {
  const teeth = 72;
  const outline: [number, number][] = [];
  for (let n = 0; n < teeth; n++) {
    for (const [part, radius] of [
      [0, 96],
      [0.22, 96],
      [0.36, 104],
      [0.64, 104],
      [0.78, 96],
    ] as const) {
      if (part === 0) continue;
      const angle = ((n + part) / teeth) * 2 * Math.PI;
      outline.push([radius * Math.cos(angle), radius * Math.sin(angle)]);
    }
  }
  return cutAll(prism(outline, 40), [
    cylinder(46, 50, [0, 0, -5]),
    ...around(8, 70).map(([x, y]) => cylinder(9, 50, [x, y, -5])),
  ]);
}

function worm(): Shape3D {
  const shaft = turned([
    [0, -190],
    [12, -190],
    [12, -150],
    [10, -150],
    [10, -130],
    [14, -130],
    [14, 130],
    [10, 130],
    [10, 150],
    [12, 150],
    [12, 205],
    [0, 205],
  ]);
  const core = fuseAll(shaft, [cylinder(13.5, 120, [0, 0, -60])]);
  try {
    const thread = sketchHelix(9.2, 101.2, 14.5, [0, 0, -50.6]).sweepSketch(
      (plane, origin) => drawRoundedRectangle(7, 4.4, 1).sketchOnPlane(plane as never, origin) as never,
      { frenet: true },
    ) as unknown as Shape3D;
    return core.fuse(thread) as Shape3D;
  } catch {
    return fuseAll(
      core,
      Array.from({ length: 11 }, (_, n) =>
        turned([
          [13, n * 9.2 - 50],
          [18, n * 9.2 - 48],
          [18, n * 9.2 - 45],
          [13, n * 9.2 - 43],
        ]),
      ),
    );
  }
}

function motor(): { body: Shape3D; cap: Shape3D; shaft: Shape3D; box: Shape3D } {
  const flange = drawRoundedRectangle(112, 112, 12).sketchOnPlane('XY').extrude(12) as Shape3D;
  const fins = Array.from(
    { length: 24 },
    (_, n) =>
      (makeBaseBox(6, 3, 118).translate([50, 0, 12]) as Shape3D).rotate(
        n * 15,
        [0, 0, 0],
        [0, 0, 1],
      ) as Shape3D,
  );
  const body = cutAll(
    fuseAll(flange, [cylinder(49, 120, [0, 0, 10]), ...fins]),
    MOTOR_SCREWS.map(([x, y]) => cylinder(3.3, 20, [x, y, -2])),
  );
  return {
    body,
    cap: cylinder(52, 44, [0, 0, 130]).fillet(10, (edge) => edge.inPlane('XY', 174)) as Shape3D,
    shaft: cylinder(9, 34, [0, 0, -34]),
    box: (makeBaseBox(46, 34, 52).fillet(4) as Shape3D).translate([0, 66, 44]) as Shape3D,
  };
}

function flange(): Shape3D {
  const disc = turned([
    [0, 0],
    [70, 0],
    [70, 6],
    [130, 6],
    [130, 28],
    [0, 28],
  ]).fillet(2, (edge) => edge.inPlane('XY', 28)) as Shape3D;
  return cutAll(disc, [
    cylinder(30, 60, [0, 0, -10]),
    ...FLANGE_BOLTS.map(([x, y]) => cylinder(5.5, 40, [x, y, -5])),
    cylinder(60, 8, [0, 0, 22]),
  ]);
}

/** The track of the balls: a torus about z, half way up the bearing. */
const ballTrack = () => drawCircle(7.7).translate(57.5, 12).sketchOnPlane('XZ').revolve([0, 0, 1]) as Shape3D;

export const DRIVE_PARTS: DemoPart[] = [
  {
    file: 'azimuth-drive/az-housing.stp',
    id: 'HX12-210',
    name: 'Azimuth housing',
    bodies: () => one('housing', PAINT.drive, housing(), PAINT.machined),
  },
  {
    file: 'azimuth-drive/az-lid.stp',
    id: 'HX12-211',
    name: 'Housing lid',
    bodies: () => one('lid', PAINT.driveLid, lid(), PAINT.machined),
  },
  {
    file: 'azimuth-drive/ring-gear.stp',
    id: 'HX12-212',
    name: 'Ring gear 72',
    bodies: () => one('gear', PAINT.bronze, ringGear()),
  },
  {
    file: 'azimuth-drive/worm.stp',
    id: 'HX12-213',
    name: 'Worm',
    bodies: () => one('worm', PAINT.steel, worm()),
  },
  {
    file: 'azimuth-drive/slew-shaft.stp',
    id: 'HX12-214',
    name: 'Slew shaft',
    bodies: () =>
      one(
        'shaft',
        PAINT.darkSteel,
        cutAll(
          turned([
            [0, 0],
            [45, 0],
            [45, 48],
            [50, 48],
            [50, 60],
            [46, 60],
            [46, 120],
            [45, 120],
            [45, 205],
            [30, 205],
            [30, 228],
            [0, 228],
          ]),
          [cylinder(20, 260, [0, 0, -10])],
        ),
      ),
  },
  {
    file: 'azimuth-drive/output-flange.stp',
    id: 'HX12-215',
    name: 'Output flange',
    bodies: () => one('flange', PAINT.steel, flange()),
  },
  {
    file: 'azimuth-drive/shaft-seal.stp',
    id: 'HX12-216',
    name: 'Shaft seal 90x110x10',
    bodies: () =>
      one(
        'seal',
        PAINT.rubber,
        turned([
          [45.2, 0],
          [56, 0],
          [56, 10],
          [50, 10],
          [50, 4],
          [45.2, 4],
        ]),
      ),
  },
  {
    file: 'bought/motor-gm-40.stp',
    id: 'GM-40-24',
    name: 'Gear motor 40 W',
    bodies: () => {
      const { body, cap, shaft, box } = motor();
      return [
        { name: 'motor body', colour: PAINT.motor, shape: body },
        { name: 'brake cap', colour: PAINT.motorCap, shape: cap },
        { name: 'shaft', colour: PAINT.rod, shape: shaft },
        { name: 'terminal box', colour: PAINT.motor, shape: box },
      ];
    },
  },
  {
    file: 'standard/bearing-6018/inner-ring.stp',
    id: 'BRG-6018-I',
    name: 'Inner ring 6018',
    bodies: () => one('inner ring', PAINT.ball, ring(54, 45, 24).cut(ballTrack()) as Shape3D),
  },
  {
    file: 'standard/bearing-6018/outer-ring.stp',
    id: 'BRG-6018-O',
    name: 'Outer ring 6018',
    bodies: () => one('outer ring', PAINT.ball, ring(70, 61, 24).cut(ballTrack()) as Shape3D),
  },
  {
    file: 'standard/bearing-6018/cage.stp',
    id: 'BRG-6018-C',
    name: 'Cage 6018',
    bodies: () =>
      one(
        'cage',
        PAINT.brass,
        cutAll(
          ring(59.5, 55.5, 19, 2.5),
          around(13, 48).map(([x, y]) => cylinder(7.9, 20, [x, y, 12], [x, y, 0])),
        ),
      ),
  },
];
