import { type Matrix4, placementFromAxes } from '#core/product/matrix';
import type { PlacementForm } from '#core/product/write-components';
import { writeBoxPart } from './box-part';
import { inFileAssembly } from './in-file-assembly';

const at = (x: number, y = 0, z = 0): Matrix4 => placementFromAxes([x, y, z]);
/** Tilted, and off the origin. */
const turned = placementFromAxes([30, 5, 0], [0, 1, 0]);

/** A plate, two bolts of a pin, a nut and a washer that is a file of its own; a frame with a nut. */
export const boltedUnit = (placementForm?: PlacementForm): [string, Uint8Array][] => [
  [
    'unit/top.stp',
    inFileAssembly({
      id: 'TOP',
      ...(placementForm && { placementForm }),
      parts: [
        { id: 'Plate', boxes: [{ size: [50, 50, 5], colour: '#ff0000', name: 'plate' }], material: 'Steel' },
        { id: 'Pin', boxes: [{ size: [5, 5, 40], colour: '#00ff00', name: 'shank' }], material: 'Brass' },
        { id: 'Nut', boxes: [{ size: [9, 9, 4], name: 'nut' }] },
      ],
      assemblies: [
        {
          id: 'Bolt',
          places: [
            ['Pin', at(0)],
            ['Nut', at(0, 0, 20)],
            ['Washer', turned],
          ],
        },
        { id: 'Frame', places: [['Nut', at(1, 2, 3)]] },
        {
          id: 'TOP',
          places: [
            ['Plate', at(0)],
            ['Bolt', at(10)],
            ['Bolt', turned],
            ['Frame', at(0, 90, 0)],
          ],
        },
      ],
      external: { Washer: '../std/washer.stp' },
    }),
  ],
  ['std/washer.stp', writeBoxPart({ id: 'Washer', boxes: [{ size: [9, 9, 1], name: 'washer' }] })],
];
