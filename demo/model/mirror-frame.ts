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
  const holed = plate.cut(cylinder(14, 30, [50, 40, -10])) as Shape3D;
  return mirrored ? (holed.mirror('YZ', [0, 0, 0]) as Shape3D) : holed;
}

/**
 * The mirror frame as one weldment: about 50 bodies, most of them welded in several times, two of them in left and
 * right forms, three struts two tenths shorter than their twins.
 */
function bodies(): DemoBody[] {
  const out: DemoBody[] = [];
  const add = (name: string, colour: string, shape: Shape3D) => out.push({ name, colour, shape });
  const sides = [-1, 1] as const;

  add(
    'torque tube',
    PAINT.frame,
    ring(57, 51, 3000).rotate(90, [0, 0, 0], [-1, 0, 0]).translate([0, -1500, 0]) as Shape3D,
  );
  for (const side of sides) {
    add(
      `end cap ${side < 0 ? 'left' : 'right'}`,
      PAINT.frame,
      cylinder(50.8, 8, [0, side * 1488 - 4, 0], [0, 1, 0]),
    );
    const trunnion = cutAll(cylinder(70, 14, [0, side * 84 - 7, 0], [0, 1, 0]), [
      cylinder(57.2, 40, [0, side * 84 - 20, 0], [0, 1, 0]),
    ]);
    add(`collar ${side < 0 ? 'left' : 'right'}`, PAINT.lattice, trunnion);
  }
  for (const { y, reach } of RIBS) {
    for (const side of sides) {
      const at = side * y;
      const label = `${side < 0 ? 'L' : 'R'}${y}`;
      add(`rib ${label}`, PAINT.frame, hollowBeam(2 * reach, 40, 60, 3).translate([0, at, 112]) as Shape3D);
      const saddle = (makeBaseBox(140, 12, 96).translate([0, at, -14]) as Shape3D).cut(
        cylinder(57.2, 40, [0, at - 20, 0], [0, 1, 0]),
      ) as Shape3D;
      add(`saddle ${label}`, PAINT.lattice, saddle);
    }
  }
  for (const [n, x] of PURLIN_X.entries()) {
    const outer = Math.abs(x) > 300;
    for (const side of sides) {
      const length = outer ? 1532 : 1536;
      const beam = hollowBeam(length, 40, 40, 2.5)
        .rotate(90, [0, 0, 0], [0, 0, 1])
        .translate([x, side * (length / 2 + 2), 164]) as Shape3D;
      add(`purlin ${n + 1}${side < 0 ? 'L' : 'R'}`, PAINT.frame, beam);
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
    const ear = cutAll(
      prism(
        [
          [-32, -64],
          [32, -64],
          [60, 40],
          [-60, 40],
        ],
        12,
      ),
      [cylinder(10.2, 40, [0, -38, -10])],
    ).rotate(90, [0, 0, 0], [1, 0, 0]) as Shape3D;
    add(
      `actuator ear ${side < 0 ? 'left' : 'right'}`,
      PAINT.lattice,
      ear.translate([UPPER_PIN.x, side * 34 + 6, UPPER_PIN.z + 38]) as Shape3D,
    );
  }
  add(
    'actuator bridge',
    PAINT.frame,
    hollowBeam(640, 50, 30, 3)
      .rotate(90, [0, 0, 0], [0, 0, 1])
      .translate([UPPER_PIN.x, 0, UPPER_PIN.z + 93]) as Shape3D,
  );
  add(
    'lifting lug',
    PAINT.lattice,
    cutAll(makeBaseBox(90, 12, 70).translate([0, 0, 50]) as Shape3D, [
      cylinder(18, 40, [0, -20, 92], [0, 1, 0]),
    ]),
  );
  return out;
}

export const FRAME_PART: DemoPart = {
  file: 'mirror/mirror-frame.stp',
  id: 'HX12-410',
  name: 'Mirror frame',
  bodies,
};
