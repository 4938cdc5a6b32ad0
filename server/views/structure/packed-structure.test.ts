import { describe, expect, it } from 'vitest';
import { FolderFileSet } from '#core/project/change/folder/folder';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { atOnce } from '#core/steps';
import { writeBoxPart } from '#core/testing/box-part';
import { LARGE, largeStructure } from '#core/testing/large-structure';
import { packSteps, unpackStructure } from './packed-structure';
import { structureViewSteps } from './structure-view';

const viewOf = async (files: Parameters<typeof scanFileSet>[0], root: string, grouped: boolean) =>
  atOnce(structureViewSteps(await scanFileSet(files), new Map(), 'p', { root, grouped }));

describe('a structure as it is sent', () => {
  it.each([true, false])('comes out as it went in (grouped: %s)', async (grouped) => {
    const view = await viewOf(await FolderFileSet.open('demo/files/hx-12'), 'hx-12-heliostat.stp', grouped);
    expect(view.rows.length).toBeGreaterThan(30);
    const sent = unpackStructure(atOnce(packSteps(view)));
    expect(sent.rows).toEqual(view.rows);
    expect({ ...sent, scene: null }).toEqual({ ...view, scene: null });
    expect(sent.scene.bodies).toEqual(view.scene.bodies);
    sent.scene.instances.forEach((instance, n) => {
      const { placement, ...rest } = view.scene.instances[n]!;
      expect({ ...instance, placement: null }).toEqual({ ...rest, placement: null });
      instance.placement.forEach((value, at) => expect(value).toBeCloseTo(placement[at]!, 6));
    });
  });

  it('keeps any name', async () => {
    const view = await viewOf(await FolderFileSet.open('demo/files/hx-12'), 'hx-12-heliostat.stp', true);
    const scene = { bodies: [], instances: [] };
    for (const name of ['a¦b', '', '"\\', 'ä\n→'])
      expect(
        unpackStructure(atOnce(packSteps({ ...view, rows: [{ ...view.rows[0]!, name }], scene }))).rows[0]!
          .name,
      ).toBe(name);
    expect(unpackStructure(atOnce(packSteps({ ...view, rows: [], scene }))).rows).toEqual([]);
  });

  it('stays below 400 kB for 5,000 rows', async () => {
    const part = Buffer.from(writeBoxPart({ id: 'ALL' })).toString('latin1');
    const view = await viewOf(new MemoryFileSet([...largeStructure(part, 'ALL')]), 'top.stp', false);
    expect(view.rows.length).toBe(LARGE.occurrences + 11);
    expect(atOnce(packSteps(view)).length).toBeLessThan(400_000);
  });
});
