import {
  IDENTITY,
  type Matrix4,
  multiply,
  placementFromAxes,
  transformPoint,
  type Vector3,
} from '#core/product/matrix';
import type { AssemblyToWrite } from '#core/product/write-assembly';
import type { ReferenceForm } from '#core/product/write-components';
import { FLANGE_BOLTS, FOOT_SCREWS, LID_SCREWS, MOTOR_SCREWS, WORM_AXIS } from './drive';
import { ANCHORS, LOWER_PIN, PEDESTAL_TOP, TRUNNION_HEIGHT, YOKE_HALF } from './field-unit';
import { around } from './kit';
import { GLASS_Z, PURLIN_X, UPPER_PIN } from './mirror-frame';
import { DEMO_TIME } from './write-part';

const TILT = (35 * Math.PI) / 180;
const at = (x: number, y: number, z: number): Matrix4 => placementFromAxes([x, y, z]);
const alongX = (x: number, y: number, z: number): Matrix4 =>
  placementFromAxes([x, y, z], [1, 0, 0], [0, 0, -1]);
const alongY = (x: number, y: number, z: number, way: 1 | -1): Matrix4 =>
  placementFromAxes([x, y, z], [0, way, 0], [1, 0, 0]);

/** Mirror frame in yoke coordinates: turned about the elevation axis. */
const MIRROR: Matrix4 = placementFromAxes(
  [0, 0, TRUNNION_HEIGHT],
  [Math.sin(TILT), 0, Math.cos(TILT)],
  [Math.cos(TILT), 0, -Math.sin(TILT)],
);
const UPPER: Vector3 = transformPoint(MIRROR, [UPPER_PIN.x, 0, UPPER_PIN.z]);
const ACTUATOR_WAY: Vector3 = [UPPER[0] - LOWER_PIN.x, 0, UPPER[2] - LOWER_PIN.z];

/** Distance between the actuator's pins at this tilt. */
export const ACTUATOR_LENGTH = Math.hypot(...ACTUATOR_WAY);

interface DemoAssembly {
  file: string;
  content: AssemblyToWrite;
}

function assembly(
  file: string,
  id: string,
  name: string,
  components: AssemblyToWrite['components'],
  referenceForm?: ReferenceForm,
): DemoAssembly {
  const fileName = file.split('/').at(-1)!;
  return {
    file,
    content: {
      id,
      name,
      fileName,
      timeStamp: DEMO_TIME,
      originatingSystem: 'Stone Tray demo',
      components,
      referenceForm,
    },
  };
}

function component(id: string, name: string, written: string, placements: Matrix4[], short = name) {
  return {
    id,
    name,
    written,
    placings: placements.map((placement, n) => ({
      name: placements.length === 1 ? short : `${short} ${n + 1}`,
      placement,
    })),
  };
}

const PANELS: readonly [number, number][] = [-1010, 0, 1010].flatMap((y): [number, number][] => [
  [-380, y],
  [380, y],
]);

/** Two clips on each of the two edges of a panel that cross the purlins; neighbours sit side by side in the gap. */
const CLIPS: Matrix4[] = PANELS.flatMap(([x, y]) =>
  PURLIN_X.filter((purlin) => Math.sign(purlin) === Math.sign(x)).flatMap((purlin) => [
    placementFromAxes([purlin - 8 - (y > -500 ? 16 : 0), y - 475 - 22, GLASS_Z - 5], [0, 0, 1], [1, 0, 0]),
    placementFromAxes([purlin + 8 + (y < 500 ? 16 : 0), y + 475 + 22, GLASS_Z - 5], [0, 0, 1], [-1, 0, 0]),
  ]),
);

/** The assemblies of the HX-12, with the links as their authors left them: three of them lead nowhere any more. */
export const ASSEMBLIES: DemoAssembly[] = [
  assembly(
    'standard/bearing-6018/bearing-6018.stp',
    'BRG-6018',
    'Bearing 6018',
    [
      component('BRG-6018-I', 'Inner ring 6018', 'inner-ring.stp', [IDENTITY]),
      component('BRG-6018-O', 'Outer ring 6018', 'outer-ring.stp', [IDENTITY]),
      component('BRG-6018-C', 'Cage 6018', 'cage.stp', [IDENTITY]),
      component(
        'BRG-BALL-15',
        'Ball 15',
        'ball-15.stp',
        around(13, 57.5).map(([x, y]) => at(x, y, 12)),
        'Ball',
      ),
    ],
    'document id',
  ),

  assembly('pedestal/pedestal.stp', 'HX12-100', 'Pedestal', [
    component('HX12-110', 'Pedestal post', 'pedestal-post.stp', [IDENTITY]),
    component(
      'HX12-111',
      'Anchor stud M24x150',
      'anchor-stud-m24.stp',
      ANCHORS.map(([x, y]) => at(x, y, -90)),
      'Anchor',
    ),
    component(
      'STD-WSH-M24',
      'Washer M24',
      '..\\standard\\washer-m24.stp',
      ANCHORS.map(([x, y]) => at(x, y, 25)),
      'Washer',
    ),
    component(
      'STD-NUT-M24',
      'Hexagon nut M24',
      '..\\standard\\nut-m24.stp',
      ANCHORS.map(([x, y]) => at(x, y, 29)),
      'Nut',
    ),
  ]),

  assembly('azimuth-drive/azimuth-drive.stp', 'HX12-200', 'Azimuth drive', [
    component('HX12-210', 'Azimuth housing', 'az-housing.stp', [IDENTITY]),
    component('HX12-211', 'Housing lid', 'az-lid.stp', [at(0, 0, 160)]),
    component('HX12-212', 'Ring gear 72', 'ring-gear.stp', [at(0, 0, 58)]),
    component('HX12-213', 'Worm', 'worm.stp', [alongX(0, WORM_AXIS.y, WORM_AXIS.z)]),
    component('HX12-214', 'Slew shaft', 'slew-shaft.stp', [at(0, 0, -2)]),
    component('HX12-215', 'Output flange', 'output-flange.stp', [at(0, 0, 203)]),
    component('HX12-216', 'Shaft seal 90x110x10', 'shaft-seal.stp', [at(0, 0, 2), at(0, 0, 188)], 'Seal'),
    component(
      'BRG-6018',
      'Bearing 6018',
      '../standard/bearing-6018/bearing-6018.stp',
      [at(0, 0, 14), at(0, 0, 160)],
      'Slew bearing',
    ),
    component(
      'BRG-6204',
      'Bearing 6204',
      '../standard/bearing-6204.stp',
      [alongX(-147, WORM_AXIS.y, WORM_AXIS.z), alongX(133, WORM_AXIS.y, WORM_AXIS.z)],
      'Worm bearing',
    ),
    component('GM-40-24', 'Gear motor 40 W', '..\\bought\\motor-gm-40.stp', [
      alongX(228, WORM_AXIS.y, WORM_AXIS.z),
    ]),
    component(
      'STD-M6X20',
      'Socket screw M6x20',
      '../standard/screw-m6x20.stp',
      [
        ...LID_SCREWS.map(([x, y]) => at(x, y, 168)),
        ...MOTOR_SCREWS.map(([y, z]) => alongX(240, WORM_AXIS.y + y, WORM_AXIS.z + z)),
      ],
      'Screw M6',
    ),
    component(
      'STD-M8X25',
      'Socket screw M8x25',
      '../standard/screw-m8x25.stp',
      FOOT_SCREWS.map(([x, y]) => at(x, y, 16)),
      'Foot screw',
    ),
  ]),

  assembly(
    'elevation/elevation.stp',
    'HX12-300',
    'Elevation',
    [
      component('HX12-310', 'Yoke', 'yoke.stp', [IDENTITY]),
      component(
        'HX12-311',
        'Trunnion bush 114',
        'trunnion-bush.stp',
        [alongY(0, YOKE_HALF - 26, TRUNNION_HEIGHT, 1), alongY(0, -YOKE_HALF + 26, TRUNNION_HEIGHT, -1)],
        'Bush',
      ),
      component('LA-300-S', 'Linear actuator 300', '../bought/actuator-la-300.stp', [
        placementFromAxes([LOWER_PIN.x, 0, LOWER_PIN.z], ACTUATOR_WAY, [-1, 0, 0]),
      ]),
      component(
        'HX12-312',
        'Clevis pin 20x90',
        '../pins/clevis pin 20x90.stp',
        [alongY(LOWER_PIN.x, 0, LOWER_PIN.z, 1), alongY(UPPER[0], 0, UPPER[2], 1)],
        'Clevis pin',
      ),
      component(
        'STD-M10X40',
        'Socket screw M10x40',
        '../standard/screw-m10x40.stp',
        FLANGE_BOLTS.map(([x, y]) => at(x, y, 22)),
        'Screw M10',
      ),
      component(
        'STD-WSH-M10',
        'Washer M10',
        '../norm/washer-m10.stp',
        FLANGE_BOLTS.map(([x, y]) => at(x, y, 20)),
        'Washer',
      ),
    ],
    'source',
  ),

  assembly('mirror/mirror.stp', 'HX12-400', 'Mirror', [
    component('HX12-410', 'Mirror frame', 'mirror-frame.stp', [IDENTITY]),
    component(
      'HX12-420',
      'Mirror panel 950x740',
      'mirror-panel.stp',
      PANELS.map(([x, y]) => placementFromAxes([x, y, GLASS_Z], [0, 0, 1], [0, 1, 0])),
      'Panel',
    ),
    component('HX12-421', 'Panel clip', 'panel-clip.stp', CLIPS, 'Clip'),
    component(
      'STD-M6X20',
      'Socket screw M6x20',
      '../standard/screw-m6x20.stp',
      CLIPS.map((clip) => multiply(clip, at(0, -8, 5))),
      'Screw M6',
    ),
  ]),

  assembly('hx-12-heliostat.stp', 'HX12-000', 'HX-12 heliostat', [
    component('HX12-100', 'Pedestal', 'pedestal/pedestal.stp', [IDENTITY]),
    component('HX12-200', 'Azimuth drive', 'azimuth-drive/azimuth-drive.stp', [at(0, 0, PEDESTAL_TOP)]),
    component('HX12-300', 'Elevation', 'elevation/elevation.stp', [at(0, 0, PEDESTAL_TOP + 231)]),
    component('HX12-400', 'Mirror', 'mirror/mirror.stp', [multiply(at(0, 0, PEDESTAL_TOP + 231), MIRROR)]),
  ]),
];

/** What was renamed outside after the assemblies were saved. */
export const RENAMED: { [file: string]: string } = {
  'azimuth-drive/az-lid.stp': 'azimuth-drive/az-lid_rev-b.stp',
};
