import { drawRoundedRectangle, makeBaseBox, type Shape3D } from 'replicad';
import { cutAll, cylinder, type DemoBody, type DemoPart, PAINT, prism, ring } from './kit';

/** Frame coordinates: y along the elevation axis, z from the axis towards the glass. */
export const GLASS_Z = 189;

/** Where the actuator's upper pin sits. */
export const UPPER_PIN = { x: -430, z: 64 };

/** Rib positions along the axis, and how far each reaches to either side of it. */
const RIBS = [
  { y: 280, reach: 760 },
  { y: 840, reach: 740 },
  { y: 1400, reach: 700 },
];
export const PURLIN_X = [-680, -250, 250, 680];

/** Rectangular hollow section along x, its centre line through the origin. */
function hollowBeam(length: number, width: number, height: number, wall: number): Shape3D {
  const outside = drawRoundedRectangle(width, height, wall)
    .sketchOnPlane('YZ', -length / 2)
    .extrude(length) as Shape3D;
  const inside = drawRoundedRectangle(width - 2 * wall, height - 2 * wall, wall / 2)
    .sketchOnPlane('YZ', -length / 2 - 1)
    .extrude(length + 2) as Shape3D;
  return outside.cut(inside) as Shape3D;
}

/** A flat bar between two points of a plane y = constant. */
function strut(
  from: [number, number, number],
  to: [number, number, number],
  width: number,
  thickness: number,
): Shape3D {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]);
  const bar = makeBaseBox(length, thickness, width).translate([length / 2, 0, -width / 2]) as Shape3D;
  const turn = (Math.atan2(to[1] - from[1], to[0] - from[0]) * 180) / Math.PI;
  const rise = (-Math.atan2(to[2] - from[2], Math.hypot(to[0] - from[0], to[1] - from[1])) * 180) / Math.PI;
  return bar.rotate(rise, [0, 0, 0], [0, 1, 0]).rotate(turn, [0, 0, 0], [0, 0, 1]).translate(from) as Shape3D;
}

/** With a lip on one side: left and right are mirror images and no turns of each other. */
function gusset(mirrored: boolean): Shape3D {
  const plate = prism(
    [
      [0, 0],
      [150, 0],
      [150, 24],
      [24, 110],
      [0, 110],
    ],
    8,
  );
  const lip = makeBaseBox(8, 82, 14).translate([4, 65, 8]) as Shape3D;
  const holed = (plate.fuse(lip) as Shape3D).cut(cylinder(14, 40, [50, 40, -10])) as Shape3D;
  return mirrored ? (holed.mirror('YZ', [0, 0, 0]) as Shape3D) : holed;
}

/** Holes along y through a saddle or a rib: what is bolted there differs from one to the next. */
function drilled(
  shape: Shape3D,
  holes: readonly [x: number, z: number, radius: number][],
  y: number,
): Shape3D {
  return cutAll(
    shape,
    holes.map(([x, z, radius]) => cylinder(radius, 120, [x, y - 60, z], [0, 1, 0])),
  );
}

/** Holes along z through the top wall of a purlin, for the panel clips. */
function clipHoles(beam: Shape3D, x: number, at: readonly number[]): Shape3D {
  return cutAll(
    beam,
    at.map((y) => cylinder(4.2, 12, [x, y, 176])),
  );
}

/** What changed in the frame after its first issue: one tube longer, a lug moved, a clip gone, a bracket new. */
export type FrameIssue = 'first' | 'second';

/**
 * The mirror frame as one weldment: about 50 bodies of 30-odd shapes, two of them in left and right forms, some struts
 * two tenths shorter than their twins.
 */
function bodies(issue: FrameIssue): DemoBody[] {
  const out: DemoBody[] = [];
  const add = (name: string, colour: string, shape: Shape3D) => out.push({ name, colour, shape });
  const sides = [-1, 1] as const;

  add(
    'torque tube',
    PAINT.frame,
    ring(57, 51, 3000).rotate(90, [0, 0, 0], [-1, 0, 0]).translate([0, -1500, 0]) as Shape3D,
  );
  for (const side of sides) {
    const cap = cylinder(50.8, 8, [0, side * 1488 - 4, 0], [0, 1, 0]);
    add(
      `end cap ${side < 0 ? 'left' : 'right'}`,
      PAINT.frame,
      side < 0 ? (cap.cut(cylinder(6, 30, [0, -1500, 0], [0, 1, 0])) as Shape3D) : cap,
    );
    const trunnion = cutAll(cylinder(70, 14, [0, side * 84 - 7, 0], [0, 1, 0]), [
      cylinder(57.2, 40, [0, side * 84 - 20, 0], [0, 1, 0]),
      ...(side < 0 ? [cylinder(4, 30, [63.5, side * 84 - 15, 0], [0, 1, 0])] : []),
    ]);
    add(`collar ${side < 0 ? 'left' : 'right'}`, PAINT.lattice, trunnion);
  }
  for (const { y, reach } of RIBS) {
    for (const side of sides) {
      const at = side * y;
      const label = `${side < 0 ? 'L' : 'R'}${y}`;
      const rib = hollowBeam(2 * reach, 40, 60, 3).translate([0, at, 112]) as Shape3D;
      const cable = side > 0 ? ([[120, 112, 9]] as [number, number, number][]) : [];
      add(`rib ${label}`, PAINT.frame, drilled(rib, cable, at));
      const saddle = (makeBaseBox(140, 12, 96).translate([0, at, -14]) as Shape3D).cut(
        cylinder(57.2, 40, [0, at - 20, 0], [0, 1, 0]),
      ) as Shape3D;
      const bolts = { 280: [], 840: [0], 1400: [-40, 40] }[y] ?? [];
      add(
        `saddle ${label}`,
        PAINT.lattice,
        drilled(
          saddle,
          bolts.map((x) => [x, 70, 5.5]),
          at,
        ),
      );
    }
  }
  for (const [n, x] of PURLIN_X.entries()) {
    const outer = Math.abs(x) > 300;
    for (const side of sides) {
      const length = outer ? 1532 : 1536;
      const beam = hollowBeam(length, 40, 40, 2.5)
        .rotate(90, [0, 0, 0], [0, 0, 1])
        .translate([x, side * (length / 2 + 2), 164]) as Shape3D;
      const clips = [
        [380, 1150],
        [380, 1150, 760],
        [300, 1200],
        [300, 1200, 760],
      ][n]!;
      add(
        `purlin ${n + 1}${side < 0 ? 'L' : 'R'}`,
        PAINT.frame,
        clipHoles(
          beam,
          x,
          clips.map((y) => side * y),
        ),
      );
    }
  }
  for (const { y, reach } of RIBS) {
    for (const side of sides) {
      for (const way of sides) {
        const twin = y === 840 && side < 0 ? 0.2 : 0;
        add(
          `strut ${side < 0 ? 'L' : 'R'}${y}${way < 0 ? 'a' : 'b'}`,
          PAINT.lattice,
          strut([way * 48, side * y, -30], [way * (reach - 160 - twin), side * y, 84], 30, 6),
        );
      }
    }
  }
  for (const side of sides) {
    for (const way of sides) {
      add(
        `bay strut ${side < 0 ? 'L' : 'R'}${way < 0 ? 'a' : 'b'}`,
        PAINT.lattice,
        strut([way * 60, side * 300, 84], [way * 640, side * 820, 84], 30, 6),
      );
      const plate = gusset(way * side < 0)
        .translate([0, 0, -4])
        .rotate(way < 0 ? 180 : 0, [0, 0, 0], [0, 0, 1]) as Shape3D;
      add(
        `gusset ${way * side < 0 ? 'left' : 'right'} ${side < 0 ? 'L' : 'R'}${way < 0 ? 'a' : 'b'}`,
        PAINT.lattice,
        plate.translate([way * 60, side * 280, 78]) as Shape3D,
      );
    }
    const outline = prism(
      [
        [-32, -64],
        [32, -64],
        [74, 40],
        [-60, 40],
      ],
      12,
    );
    const bossed = outline.fuse(cylinder(22, 18, [0, -38, 0])) as Shape3D;
    const right = (bossed.cut(cylinder(10.2, 60, [0, -38, -20])) as Shape3D)
      .rotate(90, [0, 0, 0], [1, 0, 0])
      .translate([0, 6, 0]) as Shape3D;
    const ear = side > 0 ? (right.mirror('XZ', [0, 0, 0]) as Shape3D) : right;
    add(
      `actuator ear ${side < 0 ? 'left' : 'right'}`,
      PAINT.lattice,
      ear.translate([UPPER_PIN.x, side * 34, UPPER_PIN.z + 38]) as Shape3D,
    );
  }
  add(
    'actuator bridge',
    PAINT.frame,
    hollowBeam(issue === 'first' ? 640 : 660, 50, 30, 3)
      .rotate(90, [0, 0, 0], [0, 0, 1])
      .translate([UPPER_PIN.x, 0, UPPER_PIN.z + 93]) as Shape3D,
  );
  add(
    'lifting lug',
    PAINT.lattice,
    cutAll(makeBaseBox(90, 12, 70).translate([0, 0, 50]) as Shape3D, [
      cylinder(18, 40, [0, -20, 92], [0, 1, 0]),
    ]).translate([0, issue === 'first' ? 0 : 40, 0]) as Shape3D,
  );
  const bracket = (width: number, depth: number): Shape3D =>
    (makeBaseBox(width, depth, 4) as Shape3D).fuse(
      makeBaseBox(4, depth, 38).translate([(4 - width) / 2, 0, 0]) as Shape3D,
    ) as Shape3D;
  add('plate bracket', PAINT.lattice, bracket(70, 46).translate([110, 560, 57]) as Shape3D);
  add('cable guide', PAINT.lattice, bracket(34, 20).translate([-90, 470, 57]) as Shape3D);
  if (issue === 'first')
    add('cable clip', PAINT.lattice, bracket(26, 12).translate([-90, 700, 57]) as Shape3D);
  else add('sensor bracket', PAINT.lattice, bracket(52, 30).translate([110, -560, 57]) as Shape3D);
  return out;
}

export const framePart = (issue: FrameIssue): DemoPart => ({
  file: 'mirror/mirror-frame.stp',
  id: 'HX12-410',
  name: 'Mirror frame',
  bodies: () => bodies(issue),
});
