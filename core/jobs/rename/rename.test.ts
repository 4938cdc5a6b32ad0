import { describe, expect, it } from 'vitest';
import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { Refusal } from '#core/refusal';
import { inFileAssembly } from '#core/testing/in-file-assembly';
import { kernel } from '#core/testing/kernel';
import { testContext } from '#core/testing/plan-context';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { RENAME_FORM } from './command';

async function rename(choices: object, files = gearUnit()) {
  const before = new Map<string, Uint8Array>();
  for (const { path } of await files.list()) before.set(path, await files.read(path));
  const planned = await planOperation(
    operationNamed('rename-parts')!,
    await testContext(files, kernel),
    choices,
  );
  const undo = await files.apply(planned.change);
  const project = await scanFileSet(files);
  const called = (path: string) =>
    project.files.get(path)!.scan.products.map(({ id, name }) => (id === name ? id : `${id} (${name})`));
  return { files, before, planned, undo, project, called };
}

describe('renaming parts', () => {
  it('leaves the file where it is, and what stands for the part follows wherever it does', async () => {
    const { files, before, called, planned, undo, project } = await rename({
      file: 'parts/housing.stp',
      parts: [{ id: 'H-100', name: "Housing 'left', ø60" }],
    });
    expect(called('parts/housing.stp')).toEqual(["H-100 (Housing 'left', ø60)"]);
    expect(called('drive/drive.stp')).toContain("H-100 (Housing 'left', ø60)");
    expect(planned.change.summary).toBe("Renamed HOUSING to Housing 'left', ø60");
    expect(planned.preview).toMatchObject({ parts: [{ to: null, standIns: 1 }] });
    expect(project.uses.get('drive/drive.stp')!.find(({ to }) => to === 'parts/housing.stp')).toMatchObject({
      state: 'sound',
    });
    // Nothing else changes: what was written in the place of the old words has another length, and the rest is the same.
    const [was, is] = [before.get('drive/drive.stp')!, await files.read('drive/drive.stp')];
    const text = Buffer.from(is).toString('latin1');
    expect(text.replace("'H-100','Housing ''left'', \\X2\\00F8\\X0\\60'", "'HOUSING','HOUSING'")).toBe(
      Buffer.from(was).toString('latin1'),
    );
    await files.apply(undo);
    for (const [path, bytes] of before) expect(await files.read(path)).toEqual(bytes);
  });

  it('takes the file along when that is wanted, under a name that is free', async () => {
    const { called, planned, project } = await rename({
      file: 'unit.stp',
      parts: [{ part: 'BASE', id: 'PLATE', name: 'Plate' }],
      files: true,
    });
    expect(planned.preview).toMatchObject({ parts: [{ file: 'parts/base.stp', to: 'parts/Plate.stp' }] });
    expect(called('parts/Plate.stp')).toEqual(['PLATE (Plate)']);
    expect(called('unit.stp')).toContain('PLATE (Plate)');
    expect(project.uses.get('unit.stp')!.map(({ to }) => to)).toContain('parts/Plate.stp');
  });

  it('names several at once, and only what they are called', async () => {
    const files = new MemoryFileSet([
      [
        'top.stp',
        inFileAssembly({
          id: 'TOP',
          parts: [{ id: 'Pin', boxes: [{ size: [5, 5, 40] }] }],
          assemblies: [{ id: 'TOP', places: [['Pin', [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]]] }],
        }),
      ],
      ['other.stp', testAssembly('OTHER', [{ written: 'top.stp', id: 'a pump' }])],
    ]);
    const { called, planned } = await rename(
      { file: 'top.stp', parts: [{ part: 'Pin', name: 'Bolt' }, { name: 'Head' }] },
      files,
    );
    expect(called('top.stp').sort()).toEqual(['Pin (Bolt)', 'TOP (Head)']);
    // That one calls it what it likes.
    expect(called('other.stp')).toContain('a pump');
    expect(planned.change.warnings).toEqual(['other.stp calls TOP a pump: that stays as it is.']);
    expect(planned.preview).toMatchObject({ parts: [{ standIns: 0 }, { standIns: 0 }] });
  });

  it.each([
    [{ file: 'no.stp', parts: [{ name: 'x' }] }, 'There is no file no.stp.'],
    [{ file: 'unit.stp', parts: [{ part: 'NUT', name: 'x' }] }, 'unit.stp has no part NUT.'],
    [
      { file: 'drive/drive.stp', parts: [{ part: 'LID', name: 'x' }] },
      'The file of LID in drive/drive.stp is not found: repair the link first.',
    ],
    [
      { file: 'drive/drive.stp', parts: [{ part: 'HOUSING', id: 'M6' }] },
      /and .* in drive\/drive\.stp would both have the id M6: choose another for one of them\./,
    ],
    [
      {
        file: 'unit.stp',
        parts: [
          { part: 'BASE', id: 'a' },
          { file: 'parts/base.stp', id: 'b' },
        ],
      },
      'BASE of parts/base.stp is named twice.',
    ],
  ])('refuses %j', async (choices, words) => {
    const found = await rename(choices).catch((error: unknown) => error);
    expect(found).toBeInstanceOf(Refusal);
    if (words instanceof RegExp) expect((found as Refusal).message).toMatch(words);
    else expect((found as Refusal).message).toBe(words);
  });

  it('lets two parts change ids with each other, and says where an id is another file’s, too', async () => {
    const swapped = await rename({
      file: 'unit.stp',
      parts: [
        { file: 'parts/base.stp', id: 'HOUSING' },
        { file: 'parts/housing.stp', id: 'BASE' },
      ],
    });
    expect(swapped.called('parts/base.stp')).toEqual(['HOUSING (BASE)']);
    expect(swapped.planned.change.warnings).toEqual([]);
    const same = await rename({ file: 'parts/base.stp', parts: [{ id: 'M6' }] });
    expect(same.planned.change.warnings).toEqual([
      'std/screw-m6.stp has the id M6, too: links to either may be taken for the other.',
    ]);
  });
});

describe('the command', () => {
  const choices = async (given: object, file = 'unit.stp') =>
    RENAME_FORM.choices!(given, await testContext(gearUnit(), kernel), process.cwd(), [], file);

  it('names many by a pattern: all that an assembly places, to any depth', async () => {
    const { parts } = await choices({ all: true, prefix: 'GU-' });
    expect(parts!.map(({ file, id }) => `${file} ${id}`)).toEqual([
      'unit.stp GU-UNIT',
      'drive/drive.stp GU-DRIVE',
      'parts/base.stp GU-BASE',
      'parts/housing.stp GU-HOUSING',
      'std/screw-m6.stp GU-M6',
    ]);
  });

  it('says what is missing', async () => {
    await expect(choices({ component: ['BASE'] })).rejects.toThrow('Say what they are called');
    await expect(choices({ component: ['BASE', 'DRIVE'], name: 'x' })).rejects.toThrow('are for one part');
    await expect(choices({ find: 'zzz', replace: 'a' })).rejects.toThrow('None of them has that');
  });
});
