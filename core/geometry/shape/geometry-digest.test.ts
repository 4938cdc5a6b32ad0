import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { splitChoices } from '#core/jobs/split/choices';
import { openSource, outlineSplit, planSplit } from '#core/jobs/split/plan';
import { planningOn } from '#core/planning';
import { readStructure } from '#core/product/structure';
import { MemoryFileSet } from '#core/project/change/memory';
import { rewriteLinks } from '#core/project/formats/formats';
import { scanFileSet } from '#core/project/scan/scan';
import { type BoxToWrite, writeBoxPart } from '#core/testing/box-part';
import { geometryDigest } from './geometry-digest';

const digestOf = (bytes: Uint8Array) => {
  const file = Part21File.read(bytes);
  const ids = readStructure(file).products.flatMap(({ bodies }) => bodies.map(({ id }) => id));
  return geometryDigest(file, ids);
};
const part = (boxes: BoxToWrite[], more: object = {}) => writeBoxPart({ id: 'P', boxes, ...more });
const BOXES: BoxToWrite[] = [{ size: [1, 2, 3] }, { corner: [9, 0, 0], size: [4, 5, 6] }];

describe('the digest of geometry', () => {
  it('is that of other geometry whenever a size, a place or the unit is another', () => {
    const length = fc.integer({ min: 1, max: 1e6 }).map((value) => value / 1000);
    fc.assert(
      fc.property(fc.tuple(length, length, length), fc.constantFrom(0, 1, 2), length, (size, axis, other) => {
        fc.pre(size[axis] !== other);
        const changed = size.map((side, n) => (n === axis ? other : side)) as unknown as typeof size;
        expect(digestOf(part([{ size }]))).not.toBe(digestOf(part([{ size: changed }])));
        expect(digestOf(part([{ size }]))).not.toBe(digestOf(part([{ size, corner: [0, 0, other] }])));
        expect(digestOf(part([{ size }]))).not.toBe(digestOf(part([{ size }], { unit: 'in' })));
      }),
      { numRuns: 40 },
    );
  });

  it('is that of the bodies, and not of how their part is called', () => {
    expect(digestOf(part(BOXES, { id: 'Q', name: 'Another' }))).toBe(digestOf(part(BOXES)));
    const file = Part21File.read(part(BOXES));
    const [a, b] = readStructure(file).products[0]!.bodies.map(({ id }) => id) as [number, number];
    expect(geometryDigest(file, [b, a])).toBe(geometryDigest(file, [a, b]));
    expect(geometryDigest(file, [a])).not.toBe(geometryDigest(file, [a, b]));
  });

  it('stays when a link is written anew', async () => {
    const files = new MemoryFileSet([['weld.stp', part(BOXES)]]);
    const project = await scanFileSet(files);
    const outline = outlineSplit(project, await openSource(files, 'weld.stp'), splitChoices(), new Map());
    await files.apply(await planSplit(planningOn(project, files), { outline, choices: splitChoices() }));
    const { file } = outline.components[0]!;
    const before = await files.read(file);
    const { bytes } = rewriteLinks(before, file, [
      { kind: 'source', written: '../weld.stp', to: 'elsewhere/weld.stp' },
    ]);
    expect(Buffer.compare(bytes, before)).not.toBe(0);
    expect(digestOf(bytes)).toBe(digestOf(before));
  });
});
