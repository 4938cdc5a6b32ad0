import { describe, expect, it } from 'vitest';
import { MOVE } from '#core/jobs/move/operation';
import { planOperation } from '#core/operation';
import { planningOn } from '#core/planning';
import { MANIFEST_NAME, readManifest } from '#core/project/formats/manifest';
import { rootsOf } from '#core/project/scan/project';
import { scanFileSet } from '#core/project/scan/scan';
import { gearUnit } from '#core/testing/projects';
import { VIEW } from './operation';

const VIEW_OF_UNIT = { root: 'unit.stp', hidden: ['UNIT/DRIVE'], section: '-y:12.5', eye: '1,2,3,4,5,6' };

async function applied(files: ReturnType<typeof gearUnit>, choices: object) {
  const { change } = await planOperation(VIEW, planningOn(await scanFileSet(files), files), choices);
  await files.apply(change);
  return change.summary;
}
const views = async (files: ReturnType<typeof gearUnit>) =>
  readManifest(await files.read(MANIFEST_NAME)).views!;

describe('keeping a view', () => {
  it('is one more in the manifest, once a name, and can be taken out', async () => {
    const files = gearUnit();
    expect(await applied(files, { name: 'Open', view: VIEW_OF_UNIT })).toBe('Kept the view Open');
    expect(await applied(files, { name: 'All', view: { root: 'unit.stp' } })).toBe('Kept the view All');
    expect(await applied(files, { name: 'Open', view: { ...VIEW_OF_UNIT, hidden: [] } })).toBe(
      'Kept the view anew Open',
    );
    expect(await views(files)).toEqual([
      { name: 'All', root: 'unit.stp', single: false, hidden: [], section: null, colours: null, eye: null },
      { name: 'Open', ...VIEW_OF_UNIT, single: false, hidden: [], colours: null },
    ]);
    expect(await applied(files, { name: 'Open' })).toBe('Took out the view Open');
    expect((await views(files)).map(({ name }) => name)).toEqual(['All']);
    await expect(applied(files, { name: 'Open' })).rejects.toThrow('No view is called Open.');
    await expect(applied(files, { name: 'x', view: { root: 'gone.stp' } })).rejects.toThrow(
      'There is no file gone.stp.',
    );
  });

  it('follows its assembly wherever that goes, and makes no other file needed or top', async () => {
    const files = gearUnit();
    const before = rootsOf(await scanFileSet(files));
    await applied(files, { name: 'Open', view: VIEW_OF_UNIT });
    const project = await scanFileSet(files);
    expect(rootsOf(project)).toEqual(before);
    const { change } = await planOperation(MOVE, planningOn(project, files), {
      moves: [{ from: 'unit.stp', to: 'top/unit.stp' }],
    });
    await files.apply(change);
    expect((await views(files))[0]!.root).toBe('top/unit.stp');
  });
});
