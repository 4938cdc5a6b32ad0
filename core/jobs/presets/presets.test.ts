import { describe, expect, it } from 'vitest';
import { LITE } from '#core/jobs/lite/operation';
import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import { planningOn } from '#core/planning';
import { MemoryFileSet } from '#core/project/change/memory';
import { MANIFEST_NAME, readManifest } from '#core/project/formats/manifest';
import { scanFileSet } from '#core/project/scan/scan';
import { writeBoxPart } from '#core/testing/box-part';
import { kernel } from '#core/testing/kernel';
import { testContext } from '#core/testing/plan-context';
import { testAssembly } from '#core/testing/projects';
import type { ByPresetOutline } from './plan';
import { presetChoices } from './preset-choices';
import { presetsOf, USUAL_PRESETS } from './usual-presets';

const [KEEP, MAKE] = [operationNamed('preset')!, operationNamed('by-preset')!];

function twoAssemblies(...more: [string, Uint8Array][]): MemoryFileSet {
  const placed = [
    { written: 'plate.stp', id: 'PLATE' },
    { written: 'pin.stp', id: 'PIN', times: 3 },
  ];
  return new MemoryFileSet([
    ['one.stp', testAssembly('ONE', placed)],
    ['two.stp', testAssembly('TWO', placed.slice(0, 1))],
    ['empty.stp', testAssembly('EMPTY', [{ written: 'gone.stp', id: 'GONE' }])],
    ['plate.stp', writeBoxPart({ id: 'PLATE', boxes: [{ name: 'plate', size: [100, 100, 10] }] })],
    ['pin.stp', writeBoxPart({ id: 'PIN', boxes: [{ name: 'pin', size: [2, 2, 2], corner: [0, 0, 10] }] })],
    ...more,
  ]);
}

async function keep(files: MemoryFileSet, choices: object): Promise<string> {
  const { change } = await planOperation(KEEP, planningOn(await scanFileSet(files), files) as never, choices);
  await files.apply(change);
  return change.summary;
}
const kept = async (files: MemoryFileSet) => readManifest(await files.read(MANIFEST_NAME)).presets;

async function make(files: MemoryFileSet, preset: string, paths: string[]) {
  const context = await testContext(files, kernel);
  const planned = await planOperation(MAKE, context, { files: paths, preset });
  await files.apply(planned.change);
  return { ...planned, outline: planned.preview as ByPresetOutline };
}

describe('a preset', () => {
  it('holds what was chosen for any file, once a name, and can be taken out', async () => {
    const files = twoAssemblies();
    const choices = {
      ...{ file: 'one.stp', keep: ['PLATE'], without: ['PIN'], folder: 'x', tie: true },
      ...{
        smallerThan: 5,
        standard: 'screw',
        hidden: true,
        off: ['standard', 'hidden'],
        pattern: '{name}-small',
      },
    };
    expect(await keep(files, { name: 'Small', preset: { operation: 'lite', choices } })).toBe(
      'Kept the preset: Small',
    );
    expect(await kept(files)).toEqual([
      { name: 'Small', purpose: '', operation: 'lite', choices: { smallerThan: 5, pattern: '{name}-small' } },
    ]);
    const anew = { operation: 'seal', purpose: 'To send.', choices: { way: 'facets' } };
    expect(await keep(files, { name: 'Small', preset: anew })).toBe('Kept the preset anew: Small');
    expect(await kept(files)).toEqual([{ name: 'Small', ...anew }]);
    expect(await keep(files, { name: 'Small' })).toBe('Took out the preset: Small');
    expect(await kept(files)).toEqual([]);
    await expect(keep(files, { name: 'Small' })).rejects.toThrow(
      'No preset of this project is called Small.',
    );
    const refused = (operation: string, wrong: object) =>
      expect(keep(files, { name: 'x', preset: { operation, choices: wrong } })).rejects;
    await refused('move', {}).toThrow('There are no presets for move.');
    await refused('lite', { smallerThan: 200 }).toThrow('smallerThan');
  });

  it('is there in every project for customers, layout and pages, and gives way to one of the same name', () => {
    for (const preset of USUAL_PRESETS) expect(presetChoices(operationNamed, preset)).toEqual(preset.choices);
    const own = { ...USUAL_PRESETS[1]!, purpose: 'Ours.' };
    const all = presetsOf([own]);
    expect(all.map(({ name, isOwn }) => [name, isOwn])).toEqual([
      ['For layout', true],
      ['For the customer’s assembly', false],
      ['For a page', false],
    ]);
  });
});

describe('several assemblies by one preset', () => {
  it('are made in one change, the ones that cannot be are named, and again in their places', async () => {
    const files = twoAssemblies();
    const choices = { smallerThan: 5, outside: true, pattern: '{name}-small' };
    await keep(files, { name: 'Small', preset: { operation: LITE.name, choices } });
    const paths = ['one.stp', 'empty.stp', 'two.stp', 'one.stp'];
    const { outline, change } = await make(files, 'Small', paths);
    expect(
      outline.files.map(({ file, made, isMadeAgain, why }) => [file, made, isMadeAgain, why !== null]),
    ).toEqual([
      ['one.stp', 'one-small.stp', false, false],
      ['empty.stp', null, false, true],
      ['two.stp', 'two-small.stp', false, false],
    ]);
    expect(outline.files[0]).toMatchObject({
      before: { bodies: 4, faces: 24 },
      after: { bodies: 1, faces: 6 },
    });
    expect(change.summary).toBe('Made 2 files by “Small”');
    expect(change.warnings.some((words) => words.startsWith('empty.stp stays without one.'))).toBe(true);
    const { outside } = readManifest(await files.read(MANIFEST_NAME));
    expect(outside.map(({ file }) => file)).toEqual(['one-small.stp', 'two-small.stp']);

    const again = await make(files, 'Small', ['one.stp']);
    expect(again.outline.files).toMatchObject([{ made: 'one-small.stp', isMadeAgain: true }]);
    expect((await files.list()).filter(({ path }) => path.includes('small'))).toHaveLength(2);
    await expect(make(files, 'Small', ['empty.stp'])).rejects.toThrow('has no bodies');
    await expect(make(files, 'Large', ['one.stp'])).rejects.toThrow('There is no preset Large.');
  });

  it('leave nothing behind of one that cannot be carried out as it would be', async () => {
    // Two plates that touch nothing: a seal that must not leave anything out cannot be made.
    const boxes = [
      { name: 'a', size: [10, 10, 10] as [number, number, number] },
      {
        name: 'b',
        size: [10, 10, 10] as [number, number, number],
        corner: [90, 0, 0] as [number, number, number],
      },
    ];
    const files = twoAssemblies(['apart.stp', writeBoxPart({ id: 'APART', boxes })]);
    await keep(files, { name: 'Seal', preset: { operation: 'seal', choices: { formats: ['stl'] } } });
    const { outline } = await make(files, 'Seal', ['apart.stp', 'plate.stp']);
    expect(outline.files.map(({ made }) => made)).toEqual([null, 'plate-sealed.stp']);
    expect(outline.files[0]!.why).toContain('touch');
    const made = (await files.list()).map(({ path }) => path).filter((path) => path.includes('sealed'));
    expect(made.sort()).toEqual(['plate-sealed.stl', 'plate-sealed.stp']);
    expect(readManifest(await files.read(MANIFEST_NAME)).outside.map(({ file }) => file)).toEqual([
      'plate-sealed.stp',
    ]);
  });
});
