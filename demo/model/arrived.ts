import { drawRoundedRectangle, type Shape3D } from 'replicad';
import { IDENTITY, type Matrix4, placementFromAxes } from '#core/product/matrix';
import { type AssemblyToWrite, writeAssembly } from '#core/product/write-assembly';
import { cutAll, cylinder, type DemoPart, fuseAll, hexagon, one, PAINT, ring } from './kit';
import { DEMO_TIME } from './write-part';

/*
 * What arrived from outside: a terminal box as a folder of small files, which is better one file; and a limit switch as one file with
 * all of its parts inside, of which some are better files of their own, and whose lever is to be a longer one.
 */

const at = (x: number, y: number, z: number): Matrix4 => placementFromAxes([x, y, z]);
const alongY = (x: number, y: number, z: number): Matrix4 =>
  placementFromAxes([x, y, z], [0, -1, 0], [1, 0, 0]);

const block = (x: number, y: number, z: number, round = 2, from = 0): Shape3D =>
  drawRoundedRectangle(x, y, round).sketchOnPlane('XY', from).extrude(z) as Shape3D;

const BOX = 'terminal-box';
const SWITCH = 'limit-switch';

/** Middles of the box's lid screws, of its glands and of its terminals. */
const CORNERS: readonly [number, number][] = [-1, 1].flatMap((x) =>
  [-1, 1].map((y): [number, number] => [x * 54, y * 34]),
);
const GLANDS = [-30, 0, 30];
const TERMINALS = [0, 1, 2, 3, 4, 5].map((n) => -20 + 8 * n);

export const BOX_PARTS: DemoPart[] = [
  {
    file: `${BOX}/tb-bottom.stp`,
    id: 'TB6-01',
    name: 'Box bottom',
    bodies: () =>
      one(
        'bottom',
        PAINT.frame,
        cutAll(block(120, 80, 40, 8), [
          block(112, 72, 40, 5, 4),
          ...GLANDS.map((x) => cylinder(8, 30, [x, -50, 18], [0, 1, 0])),
        ]),
      ),
  },
  {
    file: `${BOX}/tb-lid.stp`,
    id: 'TB6-02',
    name: 'Box lid',
    bodies: () =>
      one(
        'lid',
        PAINT.glassBack,
        cutAll(
          block(120, 80, 6, 8),
          CORNERS.map(([x, y]) => cylinder(2.2, 10, [x, y, -1])),
        ),
      ),
  },
  {
    file: `${BOX}/tb-gasket.stp`,
    id: 'TB6-03',
    name: 'Gasket',
    bodies: () =>
      one('gasket', PAINT.rubber, block(116, 76, 1.5, 6).cut(block(110, 70, 3, 4, -1)) as Shape3D),
  },
  {
    file: `${BOX}/tb-rail.stp`,
    id: 'TB6-04',
    name: 'Rail 35x100',
    bodies: () =>
      one(
        'rail',
        PAINT.zinc,
        fuseAll(block(100, 27, 1, 0.5), [
          block(100, 35, 1, 0.5, 6.5).cut(block(102, 25, 3, 0.5, 6)) as Shape3D,
          ...[-13, 13].map((y) => block(100, 1, 7.5, 0.2).translate([0, y, 0]) as Shape3D),
        ]),
      ),
  },
  {
    file: `${BOX}/tb-terminal.stp`,
    id: 'TB6-05',
    name: 'Terminal 2.5',
    bodies: () =>
      one(
        'terminal',
        PAINT.lattice,
        cutAll(
          block(6, 40, 24, 1),
          [-13, 13].map((y) => cylinder(2, 20, [0, y, 10])),
        ),
      ),
  },
  {
    file: `${BOX}/tb-end-clamp.stp`,
    id: 'TB6-06',
    name: 'End clamp',
    bodies: () => one('clamp', PAINT.darkSteel, block(8, 36, 20, 1)),
  },
  {
    file: `${BOX}/tb-gland.stp`,
    id: 'TB6-07',
    name: 'Cable gland M16',
    bodies: () =>
      one(
        'gland',
        PAINT.cable,
        cutAll(fuseAll(hexagon(19, 5), [cylinder(7.9, 10, [0, 0, -10]), cylinder(9, 14, [0, 0, 5])]), [
          cylinder(4.5, 40, [0, 0, -12]),
        ]),
      ),
  },
  {
    file: `${BOX}/tb-lid-screw.stp`,
    id: 'TB6-08',
    name: 'Lid screw M4x12',
    bodies: () =>
      one(
        'screw',
        PAINT.zinc,
        fuseAll(cylinder(2, 12, [0, 0, -12]), [cylinder(3.5, 2.6)]).cut(
          block(0.8, 8, 3, 0.2, 1.4),
        ) as Shape3D,
      ),
  },
];

const arm = (length: number): Shape3D =>
  cutAll(
    fuseAll(cylinder(7, 4), [
      cylinder(5, 4, [length, 0, 0]),
      block(length, 8, 4, 1).translate([length / 2, 0, 0]) as Shape3D,
    ]),
    [cylinder(4, 10, [0, 0, -2]), cylinder(2, 10, [length, 0, -2])],
  );

/** Parts of the switch; they end up inside of one file. */
export const SWITCH_PARTS: DemoPart[] = [
  {
    file: `${SWITCH}/body.stp`,
    id: 'LS2-01',
    name: 'Switch body',
    bodies: () =>
      one(
        'body',
        PAINT.motor,
        cutAll(fuseAll(block(36, 60, 28, 4), [cylinder(11, 6, [0, 18, 28])]), [
          cylinder(4, 14, [0, 18, 24]),
          ...[-1, 1].map((x) => cylinder(2.6, 40, [13 * x, -24, -2])),
        ]),
      ),
  },
  {
    file: `${SWITCH}/shaft.stp`,
    id: 'LS2-02',
    name: 'Lever shaft',
    bodies: () => one('shaft', PAINT.steel, cylinder(4, 22)),
  },
  {
    file: `${SWITCH}/arm.stp`,
    id: 'LS2-03',
    name: 'Lever arm 30',
    bodies: () => one('arm', PAINT.machined, arm(30)),
  },
  {
    file: `${SWITCH}/roller.stp`,
    id: 'LS2-04',
    name: 'Roller',
    bodies: () => one('roller', PAINT.rubber, ring(9, 2, 6)),
  },
  {
    file: `${SWITCH}/pin.stp`,
    id: 'LS2-05',
    name: 'Roller pin',
    bodies: () => one('pin', PAINT.brass, fuseAll(cylinder(1.95, 12), [cylinder(3.2, 1.5, [0, 0, 11])])),
  },
  {
    file: `${SWITCH}/gland.stp`,
    id: 'TB6-07',
    name: 'Cable gland M16',
    bodies: () => BOX_PARTS[6]!.bodies(),
  },
];

/** A longer lever, for whoever needs the roller farther out. */
export const LONG_ARM: DemoPart = {
  file: `${SWITCH}/lever-arm-50.stp`,
  id: 'LS2-03-50',
  name: 'Lever arm 50',
  bodies: () => one('arm', PAINT.machined, arm(50)),
};

function assembly(
  file: string,
  id: string,
  name: string,
  components: readonly [id: string, name: string, written: string, placements: readonly Matrix4[]][],
): [string, Uint8Array] {
  const content: AssemblyToWrite = {
    id,
    name,
    fileName: file.split('/').at(-1)!,
    timeStamp: DEMO_TIME,
    originatingSystem: 'Stone Tray demo',
    components: components.map(([component, called, written, placements]) => ({
      id: component,
      name: called,
      written,
      placings: placements.map((placement, n) => ({
        name: placements.length === 1 ? called : `${called} ${n + 1}`,
        placement,
      })),
    })),
  };
  return [file, writeAssembly(content)];
}

const own = ({ file, id, name }: DemoPart, placements: readonly Matrix4[]) =>
  [id, name, file.split('/').at(-1)!, placements] as const;

const [bottom, lid, gasket, rail, terminal, clamp, gland, screw] = BOX_PARTS as [
  DemoPart,
  DemoPart,
  DemoPart,
  DemoPart,
  DemoPart,
  DemoPart,
  DemoPart,
  DemoPart,
];

export const BOX_ASSEMBLY = assembly(`${BOX}/terminal-box-tb-6.stp`, 'TB6', 'Terminal box TB-6', [
  [...own(bottom, [IDENTITY])],
  [...own(gasket, [at(0, 0, 40)])],
  [...own(lid, [at(0, 0, 41.5)])],
  [...own(rail, [at(0, 0, 4)])],
  [
    ...own(
      terminal,
      TERMINALS.map((x) => at(x, 0, 11.5)),
    ),
  ],
  [...own(clamp, [at(-31, 0, 11.5), at(31, 0, 11.5)])],
  [
    ...own(
      gland,
      GLANDS.map((x) => alongY(x, -40, 18)),
    ),
  ],
  [
    ...own(
      screw,
      CORNERS.map(([x, y]) => at(x, y, 47.5)),
    ),
  ],
]);

const [body, shaft, lever, roller, pin, entry] = SWITCH_PARTS as [
  DemoPart,
  DemoPart,
  DemoPart,
  DemoPart,
  DemoPart,
  DemoPart,
];

export const SWITCH_FILE = `${SWITCH}/limit-switch-ls-2.stp`;
export const SWITCH_ASSEMBLIES = [
  assembly(`${SWITCH}/lever.stp`, 'LS2-10', 'Roller lever', [
    [...own(shaft, [IDENTITY])],
    [...own(lever, [at(0, 0, 17)])],
    [...own(pin, [at(30, 0, 12)])],
    [...own(roller, [at(30, 0, 22)])],
  ]),
  assembly(SWITCH_FILE, 'LS2', 'Limit switch LS-2', [
    [...own(body, [IDENTITY])],
    ['LS2-10', 'Roller lever', 'lever.stp', [at(0, 18, 18)]],
    [...own(entry, [alongY(0, -30, 14)])],
  ]),
];
