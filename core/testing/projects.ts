import { IDENTITY, type Matrix4, placementFromAxes } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import type { ReferenceForm } from '#core/product/write-components';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from './box-part';

/** An assembly for tests: components by the path as written, each with how often it is placed. */
export function testAssembly(
  id: string,
  components: { written: string; id: string; times?: number }[],
  referenceForm?: ReferenceForm,
): Uint8Array {
  return writeAssembly({
    id,
    name: `${id} assembly`,
    fileName: `${id}.stp`,
    timeStamp: '2026-01-01T00:00:00',
    referenceForm,
    components: components.map(({ written, id: component, times = 1 }) => ({
      id: component,
      name: component,
      written,
      placings: Array.from({ length: times }, (_, n) => ({
        name: `${component} ${n + 1}`,
        placement: n === 0 ? IDENTITY : (placementFromAxes([n * 20, 0, 0]) as Matrix4),
      })),
    })),
  });
}

/**
 * A gear unit in four folders: a top assembly, a sub-assembly, parts and a standard part; the lid was renamed outside,
 * two washers have one name, and one file is left over.
 */
export function gearUnit(): MemoryFileSet {
  return new MemoryFileSet([
    [
      'unit.stp',
      testAssembly('UNIT', [
        { written: 'drive/drive.stp', id: 'DRIVE' },
        { written: 'parts/base.stp', id: 'BASE' },
      ]),
    ],
    [
      'drive/drive.stp',
      testAssembly(
        'DRIVE',
        [
          { written: '../parts/housing.stp', id: 'HOUSING' },
          { written: '..\\parts\\lid.stp', id: 'LID' },
          { written: 'C:\\work\\std\\screw-m6.stp', id: 'M6', times: 4 },
          { written: '../norm/washer.stp', id: 'WASHER', times: 4 },
        ],
        'source',
      ),
    ],
    ['parts/base.stp', writeBoxPart({ id: 'BASE', boxes: [{ size: [100, 100, 10] }] })],
    ['parts/housing.stp', writeBoxPart({ id: 'HOUSING', boxes: [{ size: [60, 40, 30] }] })],
    ['parts/lid_rev-b.stp', writeBoxPart({ id: 'LID', boxes: [{ size: [60, 40, 4] }] })],
    ['std/screw-m6.stp', writeBoxPart({ id: 'M6', boxes: [{ size: [6, 6, 20] }] })],
    ['std/washer.stp', writeBoxPart({ id: 'WASHER', boxes: [{ size: [12, 12, 1] }] })],
    ['bought/washer.stp', writeBoxPart({ id: 'W-WIDE', boxes: [{ size: [18, 18, 2] }] })],
    ['parts/left-over.stp', writeBoxPart({ id: 'OLD' })],
  ]);
}
