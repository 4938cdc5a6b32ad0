import {
  drawRoundedRectangle,
  genericSweep,
  makeHelix,
  makeSphere,
  type Shape3D,
  sketchCircle,
} from 'replicad';
import { placementFromAxes } from '#core/product/matrix';
import {
  around,
  gearHousing,
  type MadePart,
  needleBearing,
  placedAt,
  ring,
  roundBar,
  without,
} from './made-assemblies';
import { boxAt } from './step-of-shape';

const one = (name: string, ...bodies: Shape3D[]): MadePart => ({ name, bodies });
const turned = (parts: MadePart[]): MadePart[] => {
  const tilt = placementFromAxes([30, -20, 10], [0.36, 0.48, 0.8], [0.8, -0.6, 0]);
  return parts.map((part) => ({ ...part, places: [tilt] }));
};
const scaled = (parts: MadePart[], factor: number): MadePart[] =>
  parts.map((part) => ({
    ...part,
    bodies: part.bodies.map((body) => body.scale(factor, [0, 0, 0]) as Shape3D),
    places: part.places?.map((place) =>
      place.map((value, n) => (n % 4 === 3 && n < 12 ? value * factor : value)),
    ) as MadePart['places'],
  }));
const inUnit = (parts: MadePart[], unit: MadePart['unit']) => parts.map((part) => ({ ...part, unit }));
const torus = (radius: number, tube: number, z: number) =>
  sketchCircle(tube, { plane: 'XZ', origin: [radius, 0, z] }).revolve([0, 0, 1], {
    origin: [0, 0, 0],
  }) as Shape3D;
/** A round wire that winds up around z from a height of 8 on. mm. */
const wireSpring = (radius: number, wire: number, pitch: number, turns: number) => {
  const helix = makeHelix(pitch, pitch * turns, radius, [0, 0, 8]);
  const round = sketchCircle(wire, { plane: 'XZ', origin: [radius, 0, 8] }).wire;
  return genericSweep(round, helix, { frenet: true }) as Shape3D;
};
const screw = (radius: number, length: number) =>
  roundBar(radius, length, [0, 0, -length]).fuse(roundBar(2 * radius, radius)) as Shape3D;
const shell = (size: number, wall: number, z = 0) =>
  without(
    boxAt(size, size, size, [0, 0, z]),
    boxAt(size - 2 * wall, size - 2 * wall, size - 2 * wall, [0, 0, z + wall]),
  );
const holes = (radius: number, spots: readonly (readonly [number, number])[], from: number, depth: number) =>
  spots.map(([x, y]) => roundBar(radius, depth, [x, y, from]));
const corners = (x: number, y: number) =>
  [
    [x, y],
    [-x, y],
    [x, -y],
    [-x, -y],
  ] as const;
const grid = (count: number, pitch: number) =>
  Array.from(
    { length: count * count },
    (_, n) =>
      [((n % count) - (count - 1) / 2) * pitch, (Math.floor(n / count) - (count - 1) / 2) * pitch] as const,
  );

/** A pump: three bores through a block, pistons in them, and a cover on screws. */
function pump(): MadePart[] {
  const spots = [-30, 0, 30].map((x) => [x, 0] as const);
  return [
    one(
      'Block',
      without(boxAt(120, 50, 60), ...holes(10.05, spots, 20, 60), ...holes(2.5, corners(50, 18), 45, 20)),
    ),
    { name: 'Piston', bodies: [roundBar(10, 30)], places: spots.map(([x, y]) => placedAt(x, y, 25)) },
    one('Cover', without(boxAt(120, 50, 8, [0, 0, 60]), ...holes(3.2, corners(50, 18), 50, 30))),
    { name: 'Screw', bodies: [screw(3, 20)], places: corners(50, 18).map(([x, y]) => placedAt(x, y, 68)) },
  ];
}

/** A ball bearing: balls in grooves, a cage between. */
function ballBearing(): MadePart[] {
  const groove = torus(25, 5.1, 10);
  return [
    one('Outer ring', without(ring(35, 27, 20), groove)),
    one('Inner ring', without(ring(23, 15, 20), groove)),
    { name: 'Ball', bodies: [makeSphere(5) as Shape3D], places: around(9, 25, 10) },
  ];
}

/** Two flanges bolted together, with a gasket between and nuts on the far side. */
function flanges(): MadePart[] {
  const bolts = around(6, 30).map((place) => [place[3]!, place[7]!] as const);
  const flange = (z: number) => without(ring(40, 15, 10, z), ...holes(3.3, bolts, z - 1, 12));
  return [
    one('Lower flange', flange(0).fuse(ring(20, 15, 30, -30)) as Shape3D),
    one('Gasket', without(ring(40, 15, 2, 10), ...holes(3.5, bolts, 9, 4))),
    one('Upper flange', flange(12).fuse(ring(20, 15, 30, 22)) as Shape3D),
    { name: 'Bolt', bodies: [screw(3, 28)], places: bolts.map(([x, y]) => placedAt(x, y, 22)) },
    { name: 'Nut', bodies: [ring(6, 3, 5)], places: bolts.map(([x, y]) => placedAt(x, y, -5)) },
  ];
}

/** Assemblies that lighter models are held against: each once, with what tends to go wrong. */
export const EXACT_ASSEMBLIES: { readonly [name: string]: () => MadePart[] } = {
  'gear box': () => gearHousing(),
  'gear box, thin shaft': () => gearHousing(9),
  'gear box, tilted': () => turned(gearHousing().slice(0, 5)),
  'gear box, in inches': () => inUnit(gearHousing(), 'INCH'),
  'gear box, in metres': () => inUnit(gearHousing(20), 'M'),
  'gear box, tiny': () => scaled(gearHousing(), 0.1),
  'gear box, huge': () => scaled(gearHousing(), 10),
  'needle bearing': () => needleBearing(),
  'needle bearing of few': () => needleBearing(7),
  'ball bearing': ballBearing,
  'ball bearing on a shaft': () => [...ballBearing(), one('Shaft', roundBar(15, 80, [0, 0, -30]))],
  pump,
  'pump, tilted': () => turned(pump().filter(({ places }) => !places)),
  flanges,
  'shells in shells': () => [
    one('Outer', shell(100, 5)),
    one('Middle', shell(70, 5, 10)),
    one('Heart', boxAt(30, 30, 30, [0, 0, 25])),
  ],
  'block with voids': () => [
    one(
      'Block',
      without(
        boxAt(60, 60, 60),
        boxAt(20, 20, 20, [0, 0, 10]),
        makeSphere(8).translate([15, 15, 45]) as Shape3D,
      ),
    ),
  ],
  'plate with a hundred holes': () => [
    one('Plate', without(boxAt(220, 220, 8), ...holes(4, grid(10, 20), -1, 10))),
  ],
  'sheet with flanges': () => [
    one(
      'Sheet',
      without(boxAt(100, 60, 30), boxAt(97, 62, 30, [0, 0, 1.5]), ...holes(3, corners(30, 20), -1, 4)),
    ),
  ],
  'coil spring in a cup': () => [
    one('Cup', without(roundBar(25, 60), roundBar(20, 58, [0, 0, 4]))),
    one('Coils', torus(15, 2, 8), torus(15, 2, 16), torus(15, 2, 24)),
    one('Cap', roundBar(25, 5, [0, 0, 60])),
  ],
  'spring of wire in a cup': () => [
    one('Cup', without(roundBar(25, 60), roundBar(20, 58, [0, 0, 4]))),
    one('Spring', wireSpring(15, 2, 12, 3)),
    one('Cap', roundBar(25, 5, [0, 0, 60])),
  ],
  'stepped shaft': () => [
    one('Hub', without(roundBar(40, 50), roundBar(15.02, 30, [0, 0, -1]), roundBar(20.02, 30, [0, 0, 25]))),
    one('Shaft', roundBar(15, 60, [0, 0, -30]).fuse(roundBar(20, 60, [0, 0, 25.5])) as Shape3D),
  ],
  'crossed bores': () => [
    one(
      'Block',
      without(
        boxAt(60, 60, 60),
        roundBar(8, 80, [0, 0, -5]),
        (roundBar(6, 80) as Shape3D).rotate(90, [0, 0, 0], [0, 1, 0]).translate([-40, 0, 30]) as Shape3D,
      ),
    ),
    one('Plug', roundBar(7.9, 10, [0, 0, 50])),
  ],
  'shaft drawn through a gear': () => [
    one('Gear', roundBar(30, 12, [0, 0, 20])),
    one('Shaft', roundBar(8, 60)),
  ],
  'bush pressed in': () => [
    one('Plate', without(boxAt(60, 60, 20), roundBar(12, 30, [0, 0, -5]))),
    one('Bush', ring(12, 8, 26, -3)),
  ],
  'tube with caps': () => [
    one('Tube', ring(20, 17, 80)),
    { name: 'Cap', bodies: [roundBar(20, 4)], places: [placedAt(0, 0, -4), placedAt(0, 0, 80)] },
    one('Secret', boxAt(10, 10, 40, [0, 0, 20])),
  ],
  'rounded case': () => [
    one(
      'Case',
      without(
        drawRoundedRectangle(80, 50, 8).sketchOnPlane().extrude(40) as Shape3D,
        drawRoundedRectangle(72, 42, 5).sketchOnPlane('XY', 4).extrude(40) as Shape3D,
      ),
    ),
    one('Lid', drawRoundedRectangle(80, 50, 8).sketchOnPlane('XY', 40).extrude(3) as Shape3D),
    one('Board', boxAt(60, 30, 2, [0, 0, 15])),
  ],
  'fins on a block': () => [
    one(
      'Cooler',
      [0, 1, 2, 3, 4, 5].reduce(
        (body, n) => body.fuse(boxAt(4, 60, 20, [10 * n - 25, 0, 10])) as Shape3D,
        boxAt(60, 60, 10),
      ),
    ),
  ],
  'mirrored pair': () => {
    const half = (side: 1 | -1) =>
      without(
        boxAt(40, 60, 40, [20 * side, 0, 0]),
        boxAt(30, 50, 30, [17 * side, 0, 5]),
        roundBar(3, 60, [30 * side, 20, -5]),
      );
    return [
      one('Left half', half(-1)),
      one('Right half', half(1)),
      one('Heart', roundBar(6, 20, [0, 0, 10])),
    ];
  },
  'six blind holes': () => [
    one(
      'Block',
      without(
        boxAt(90, 90, 40),
        ...around(6, 30).map((place) => roundBar(4, 30, [place[3]!, place[7]!, 20])),
        roundBar(12, 60, [0, 0, -5]),
      ),
    ),
    one('Pin', roundBar(11.9, 70, [0, 0, -15])),
  ],
  'chain of blocks': () => [
    {
      name: 'Link',
      bodies: [without(boxAt(30, 20, 10), roundBar(4, 20, [0, 0, -5]))],
      places: [0, 1, 2, 3, 4].map((n) => placedAt(30 * n, 0, 0)),
    },
  ],
  'bosses on a cover': () => [
    one(
      'Cover',
      around(8, 35).reduce(
        (body, place) =>
          body.fuse(
            without(roundBar(6, 12, [place[3]!, place[7]!, 6]), roundBar(2.5, 20, [place[3]!, place[7]!, 8])),
          ) as Shape3D,
        roundBar(50, 8),
      ),
    ),
  ],
};
