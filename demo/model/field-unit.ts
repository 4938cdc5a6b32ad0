import { draw, drawRoundedRectangle, makeBaseBox, makeSphere, type Shape3D } from 'replicad';
import {
  around,
  cutAll,
  cylinder,
  type DemoBody,
  type DemoPart,
  fuseAll,
  hexagon,
  one,
  PAINT,
  prism,
  ring,
  turned,
} from './kit';

/** Eight anchors on the base plate. */
export const ANCHORS: readonly [number, number][] = around(8, 250, 22.5);

/** Height of the pedestal's top face. */
export const PEDESTAL_TOP = 1400;

/** The elevation axis above the output flange's top face. */
export const TRUNNION_HEIGHT = 250;

/** Half the distance between the yoke's arms. */
export const YOKE_HALF = 130;

/** Axis of the actuator's lower pin in the yoke: behind and low. */
export const LOWER_PIN = { x: -190, z: 40 };

const basePlate = () =>
  cutAll(drawRoundedRectangle(620, 620, 40).sketchOnPlane('XY').extrude(25) as Shape3D, [
    cylinder(70, 40, [0, 0, -5]),
    ...ANCHORS.map(([x, y]) => cylinder(13, 40, [x, y, -5])),
  ]);

function post(): DemoBody[] {
  const tube = ring(110, 102, PEDESTAL_TOP - 25 - 22, 25);
  const door = (drawRoundedRectangle(90, 220, 20).sketchOnPlane('YZ', 60).extrude(80) as Shape3D).translate([
    0, 0, 420,
  ]) as Shape3D;
  const top = cutAll(
    ring(168, 60, 22, PEDESTAL_TOP - 22),
    around(8, 122, 22.5).map(([x, y]) => cylinder(4.5, 40, [x, y, PEDESTAL_TOP - 30])),
  );
  const gussets = around(8, 1).map(([x, y], n) => {
    const plate = draw([108, 25])
      .lineTo([270, 25])
      .lineTo([270, 45])
      .lineTo([130, 240])
      .lineTo([108, 240])
      .close()
      .sketchOnPlane('XZ', -5)
      .extrude(10) as Shape3D;
    return {
      name: `gusset ${n + 1}`,
      colour: PAINT.galvanised,
      shape: plate.rotate((Math.atan2(y, x) * 180) / Math.PI, [0, 0, 0], [0, 0, 1]) as Shape3D,
    };
  });
  return [
    { name: 'base plate', colour: PAINT.galvanised, shape: basePlate() },
    { name: 'tube', colour: PAINT.galvanised, shape: tube.cut(door) as Shape3D },
    { name: 'top flange', colour: PAINT.galvanised, shape: top },
    ...gussets,
  ];
}

function yoke(): Shape3D {
  const base = cutAll(cylinder(130, 20), [
    cylinder(60, 40, [0, 0, -10]),
    ...around(12, 105, 15).map(([x, y]) => cylinder(5.5, 40, [x, y, -10])),
  ]);
  const arm = (y: number) => {
    const plate = draw([-110, 10])
      .lineTo([110, 10])
      .lineTo([84, TRUNNION_HEIGHT])
      .threePointsArcTo([-84, TRUNNION_HEIGHT], [0, TRUNNION_HEIGHT + 84])
      .close()
      .sketchOnPlane('XZ', -y - 12)
      .extrude(24) as Shape3D;
    return cutAll(plate, [
      cylinder(60, 60, [0, y - 30, TRUNNION_HEIGHT], [0, 1, 0]),
      cylinder(36, 60, [0, y - 30, 112], [0, 1, 0]),
    ]);
  };
  const ear = (y: number) => {
    const plate = draw([-90, 0])
      .lineTo([-150, 0])
      .lineTo([LOWER_PIN.x - 24, LOWER_PIN.z])
      .threePointsArcTo([LOWER_PIN.x, LOWER_PIN.z + 26], [LOWER_PIN.x - 18, LOWER_PIN.z + 18])
      .lineTo([-90, 60])
      .close()
      .sketchOnPlane('XZ', -y - 8)
      .extrude(16) as Shape3D;
    return plate.cut(cylinder(10.2, 60, [LOWER_PIN.x, y - 30, LOWER_PIN.z], [0, 1, 0])) as Shape3D;
  };
  const tie = makeBaseBox(90, 2 * YOKE_HALF - 20, 14).translate([0, 0, 60]) as Shape3D;
  return fuseAll(base as Shape3D, [arm(-YOKE_HALF + 12), arm(YOKE_HALF - 12), ear(-34), ear(34), tie]);
}

/**
 * The actuator as its supplier sends it: one file, many bodies. Its axis is z, from the lower pin at the origin to
 * the upper pin at `length`.
 */
function actuator(length: number): DemoBody[] {
  const eye = (z: number, up: 1 | -1) =>
    cutAll(
      cylinder(24, 34, [0, -17, z], [0, 1, 0]).fuse(
        makeBaseBox(34, 34, 46).translate([0, 0, up > 0 ? z : z - 46]) as Shape3D,
      ) as Shape3D,
      [cylinder(10.2, 60, [0, -30, z], [0, 1, 0])],
    );
  const tubeEnd = length * 0.66;
  const bolt = (x: number, y: number) =>
    fuseAll(hexagon(8, 5, tubeEnd + 22), [cylinder(2.4, 30, [0, 0, tubeEnd - 6])]).translate([
      x,
      y,
      0,
    ]) as Shape3D;
  return [
    { name: 'lower eye', colour: PAINT.darkSteel, shape: eye(0, 1) },
    {
      name: 'gearbox',
      colour: PAINT.actuator,
      shape: (makeBaseBox(104, 88, 110).fillet(9) as Shape3D).translate([14, 0, 40]) as Shape3D,
    },
    { name: 'motor', colour: PAINT.motor, shape: cylinder(30, 168, [64, 0, 92]).fillet(6) as Shape3D },
    {
      name: 'motor cap',
      colour: PAINT.motorCap,
      shape: cylinder(31, 22, [64, 0, 260]).fillet(5, (edge) => edge.inPlane('XY', 282)) as Shape3D,
    },
    { name: 'outer tube', colour: PAINT.actuator, shape: ring(32, 25, tubeEnd - 148, 148) },
    {
      name: 'guide head',
      colour: PAINT.darkSteel,
      shape: cutAll(cylinder(38, 26, [0, 0, tubeEnd - 4]).fillet(3) as Shape3D, [
        cylinder(20.5, 60, [0, 0, tubeEnd - 20]),
      ]),
    },
    { name: 'wiper', colour: PAINT.rubber, shape: ring(26, 20.2, 5, tubeEnd + 22) },
    { name: 'rod', colour: PAINT.rod, shape: cylinder(20, length - 40 - 200, [0, 0, 200]) },
    { name: 'upper eye', colour: PAINT.darkSteel, shape: eye(length, -1) },
    ...around(4, 31, 45).map(([x, y], n) => ({
      name: `head screw ${n + 1}`,
      colour: PAINT.zinc,
      shape: bolt(x, y),
    })),
    {
      name: 'cable gland',
      colour: PAINT.cable,
      shape: fuseAll(cylinder(9, 26, [64, 30, 190], [0, 1, 0]), [cylinder(12, 8, [64, 30, 190], [0, 1, 0])]),
    },
  ];
}

const stud = () => cylinder(12, 150).chamfer(2, (edge) => edge.inPlane('XY', 150)) as Shape3D;

function screw(diameter: number, length: number): Shape3D {
  const head = cylinder(diameter * 0.78, diameter).fillet(diameter * 0.08, (edge) =>
    edge.inPlane('XY', diameter),
  ) as Shape3D;
  const socket = hexagon(diameter * 0.83, diameter * 0.6, diameter * 0.45);
  return fuseAll(head.cut(socket) as Shape3D, [cylinder(diameter / 2, length, [0, 0, -length])]);
}

const nut = (flats: number, bore: number, height: number) =>
  hexagon(flats, height)
    .intersect(
      turned([
        [0, 0],
        [flats * 0.5, 0],
        [flats * 0.6, height * 0.2],
        [flats * 0.6, height * 0.8],
        [flats * 0.5, height],
        [0, height],
      ]),
    )
    .cut(cylinder(bore, height + 2, [0, 0, -1])) as Shape3D;

const clip = () =>
  cutAll(
    fuseAll(
      prism(
        [
          [-20, -22],
          [20, -22],
          [20, 22],
          [-20, 22],
        ],
        5,
      ),
      [
        prism(
          [
            [-20, 8],
            [20, 8],
            [20, 22],
            [-20, 22],
          ],
          14,
          5,
        ),
        prism(
          [
            [-20, 8],
            [20, 8],
            [20, 40],
            [-20, 40],
          ],
          4,
          15,
        ),
      ],
    ),
    [cylinder(3.4, 20, [0, -8, -5])],
  );

export const mirrorPanel = (): DemoBody[] => [
  {
    name: 'glass',
    colour: PAINT.mirror,
    shape: drawRoundedRectangle(950, 740, 6).sketchOnPlane('XY', 6).extrude(4) as Shape3D,
  },
  {
    name: 'back',
    colour: PAINT.glassBack,
    shape: drawRoundedRectangle(946, 736, 5).sketchOnPlane('XY').extrude(6) as Shape3D,
  },
];

/**
 * What the clips are made from, as one part of three bodies. In its second issue the clip has a drain hole; the clip's
 * own file still came out of the first.
 */
export const clipSet = (issue: 'first' | 'second'): DemoPart => ({
  file: 'mirror/panel-clip-set.stp',
  id: 'HX12-425',
  name: 'Panel clip set',
  bodies: () => {
    const plain = clip();
    const { center } = plain.boundingBox;
    const drained = plain.cut(cylinder(1.5, 200, [center[0], center[1], center[2] - 100])) as Shape3D;
    return [
      { name: 'clip', colour: PAINT.clip, shape: issue === 'first' ? plain : drained },
      { name: 'pad', colour: PAINT.rubber, shape: ring(9, 4.2, 3).translate([60, 0, 0]) as Shape3D },
      {
        name: 'lock washer',
        colour: PAINT.zinc,
        shape: ring(7.5, 4.1, 1.6).translate([90, 0, 0]) as Shape3D,
      },
    ];
  },
});

/** Length of the actuator between its pins, set where the assembly is put together. */
export function fieldParts(actuatorLength: number): DemoPart[] {
  return [
    { file: 'pedestal/pedestal-post.stp', id: 'HX12-110', name: 'Pedestal post', bodies: post },
    {
      file: 'pedestal/anchor-stud-m24.stp',
      id: 'HX12-111',
      name: 'Anchor stud M24x150',
      bodies: () => one('stud', PAINT.zinc, stud()),
    },
    {
      file: 'elevation/yoke.stp',
      id: 'HX12-310',
      name: 'Yoke',
      bodies: () => one('yoke', PAINT.drive, yoke()),
    },
    {
      file: 'elevation/trunnion-bush.stp',
      id: 'HX12-311',
      name: 'Trunnion bush 114',
      bodies: () =>
        one(
          'bush',
          PAINT.brass,
          turned([
            [57.3, -8],
            [76, -8],
            [76, 0],
            [60, 0],
            [60, 28],
            [57.3, 28],
          ]),
        ),
    },
    {
      file: 'elevation/clevis-pin_20x90.stp',
      id: 'HX12-312',
      name: 'Clevis pin 20x90',
      bodies: () =>
        one(
          'pin',
          PAINT.steel,
          turned([
            [0, -50],
            [15, -50],
            [15, -44],
            [10, -44],
            [10, 46],
            [8, 48],
            [0, 48],
          ]),
        ),
    },
    {
      file: 'bought/actuator-la-300.stp',
      id: 'LA-300-S',
      name: 'Linear actuator 300',
      bodies: () => actuator(actuatorLength),
    },
    { file: 'mirror/mirror-panel.stp', id: 'HX12-420', name: 'Mirror panel 950x740', bodies: mirrorPanel },
    clipSet('second'),
    {
      file: 'mirror/panel-clip.stp',
      id: 'HX12-421',
      name: 'Panel clip',
      bodies: () => one('clip', PAINT.clip, clip()),
    },
    {
      file: 'standard/bearing-6018/ball-15.stp',
      id: 'BRG-BALL-15',
      name: 'Ball 15',
      bodies: () => one('ball', PAINT.ball, makeSphere(7.5) as Shape3D),
    },
    {
      file: 'standard/bearing-6204.stp',
      id: 'BRG-6204',
      name: 'Bearing 6204',
      bodies: () =>
        one('outer ring', PAINT.ball, ring(23.5, 19.5, 14)).concat(
          one('inner ring', PAINT.ball, ring(14.5, 10, 14)),
          one('shield', PAINT.darkSteel, ring(19.4, 14.6, 11, 1.5)),
        ),
    },
    {
      file: 'standard/screw-m6x20.stp',
      id: 'STD-M6X20',
      name: 'Socket screw M6x20',
      bodies: () => one('screw', PAINT.zinc, screw(6, 20)),
    },
    {
      file: 'standard/screw-m8x25.stp',
      id: 'STD-M8X25',
      name: 'Socket screw M8x25',
      bodies: () => one('screw', PAINT.zinc, screw(8, 25)),
    },
    {
      file: 'standard/screw-m10x40.stp',
      id: 'STD-M10X40',
      name: 'Socket screw M10x40',
      bodies: () => one('screw', PAINT.zinc, screw(10, 40)),
    },
    {
      file: 'standard/nut-m24.stp',
      id: 'STD-NUT-M24',
      name: 'Hexagon nut M24',
      bodies: () => one('nut', PAINT.zinc, nut(36, 12, 21)),
    },
    {
      file: 'standard/washer-m24.stp',
      id: 'STD-WSH-M24',
      name: 'Washer M24',
      bodies: () => one('washer', PAINT.zinc, ring(22, 12.5, 4)),
    },
    {
      file: 'standard/washer-m10.stp',
      id: 'STD-WSH-M10',
      name: 'Washer M10',
      bodies: () => one('washer', PAINT.zinc, ring(10, 5.3, 2)),
    },
  ];
}
