import { describe, expect, it } from 'vitest';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { planOperation } from '#core/operation';
import { planningOn } from '#core/planning';
import { placementFromAxes } from '#core/product/matrix';
import { MemoryFileSet } from '#core/project/change/memory';
import { withEntries } from '#core/project/formats/manifest';
import type { Project } from '#core/project/scan/project';
import { scanFileSet } from '#core/project/scan/scan';
import { lookAt } from '#core/report';
import { writeBoxPart } from '#core/testing/box-part';
import { inFileAssembly } from '#core/testing/in-file-assembly';
import { lookContext } from '#core/testing/look-context';
import { testAssembly } from '#core/testing/projects';
import { MATERIAL, type MaterialChoices } from './material-operation';
import { BOM } from './report';

const at = (x: number) => placementFromAxes([x, 0, 0]);

/** A unit that places a drive twice and a base; each drive has a shaft and four screws, and a plate inside its own file. */
function unit(): MemoryFileSet {
  return new MemoryFileSet([
    [
      'unit.stp',
      testAssembly('UNIT', [
        { written: 'drive.stp', id: 'DRIVE', times: 2 },
        { written: 'base.stp', id: 'BASE' },
      ]),
    ],
    [
      'drive.stp',
      inFileAssembly({
        id: 'DRIVE',
        parts: [{ id: 'PLATE', boxes: [{ size: [10, 10, 10] }], material: 'Steel' }],
        assemblies: [
          {
            id: 'DRIVE',
            places: [
              ['PLATE', at(0)],
              ['SHAFT', at(50)],
              ...[0, 1, 2, 3].map((n) => ['SCREW', at(100 + n)] as const),
            ],
          },
        ],
        external: { SHAFT: 'shaft.stp', SCREW: 'std/screw.stp' },
      }),
    ],
    ['base.stp', writeBoxPart({ id: 'BASE', boxes: [{ size: [100, 100, 10] }] })],
    ['shaft.stp', writeBoxPart({ id: 'SHAFT', boxes: [{ size: [10, 10, 100] }] })],
    ['std/screw.stp', writeBoxPart({ id: 'SCREW', boxes: [{ size: [5, 5, 20] }] })],
    ['stonetray-project.json', withEntries(undefined, () => ({ standard: [{ folder: 'std' }] }))],
  ]);
}

const VOLUMES: { [path: string]: number } = {
  'drive.stp': 1000,
  'base.stp': 100_000,
  'shaft.stp': 10_000,
  'std/screw.stp': 500,
};

const measured = (path: string, project: Project): ReadonlyMap<number, MeasuredBody> =>
  new Map(
    project.files
      .get(path)!
      .scan.products.flatMap(({ bodies }) => bodies)
      .map(({ id }) => [id, { facts: { volume: VOLUMES[path]! } } as MeasuredBody]),
  );

async function billOf(files: MemoryFileSet, choices: object, older = {}) {
  const { data, tables, summary } = await lookAt(BOM, lookContext(files, { measured, older }), {
    file: 'unit.stp',
    ...choices,
  });
  return { ...data, tables, summary };
}

const setMaterial = async (files: MemoryFileSet, choices: MaterialChoices) => {
  const planned = await planOperation(MATERIAL, planningOn(await scanFileSet(files), files), choices);
  await files.apply(planned.change);
  return planned;
};

describe('a bill of materials', () => {
  it('counts level by level, each component once, and each part once', async () => {
    const indented = await billOf(unit(), {});
    expect(
      indented.rows.map(({ level, name, quantity, total, file }) => [level, name, quantity, total, file]),
    ).toEqual([
      [1, 'DRIVE', 2, 2, 'drive.stp'],
      [2, 'PLATE', 1, 2, 'drive.stp'],
      [2, 'SHAFT', 1, 2, 'shaft.stp'],
      [2, 'SCREW', 4, 8, 'std/screw.stp'],
      [1, 'BASE', 1, 1, 'base.stp'],
    ]);
    const flat = await billOf(unit(), { form: 'flat' });
    expect(flat.rows.map(({ name, total }) => `${total} ${name}`)).toEqual([
      '1 BASE',
      '2 DRIVE',
      '2 PLATE',
      '8 SCREW',
      '2 SHAFT',
    ]);
    const parts = await billOf(unit(), { form: 'parts' });
    expect(parts.rows.map(({ name }) => name)).toEqual(['BASE', 'PLATE', 'SCREW', 'SHAFT']);
    expect(parts.totals.occurrences).toBe(13);
    expect(parts.rows.map(({ use }) => use)).toEqual([null, null, 'standard', null]);
  });

  it.each(['indented', 'flat'])('says what places each component, in a bill that is %s', async (form) => {
    const files = unit();
    const { rows } = await billOf(files, { form });
    const { files: scanned } = await scanFileSet(files);
    const nameOf = ({ holder }: (typeof rows)[number]) =>
      scanned.get(holder.file)!.scan.products.find(({ definition }) => definition === holder.definition)!.id;
    const placed = rows.map((row) => [row.name, nameOf(row), row.holder.file, row.isLinked]);
    expect(placed.sort()).toEqual([
      ['BASE', 'UNIT', 'unit.stp', true],
      ['DRIVE', 'UNIT', 'unit.stp', true],
      ['PLATE', 'DRIVE', 'drive.stp', false],
      ['SCREW', 'DRIVE', 'drive.stp', true],
      ['SHAFT', 'DRIVE', 'drive.stp', true],
    ]);
  });

  it('weighs what has a volume and a material, and says how much it does not know', async () => {
    const files = unit();
    const before = await billOf(files, {});
    expect(before.totals).toMatchObject({ mass: null, withoutMass: 3 });
    expect(before.rows.find(({ name }) => name === 'PLATE')!.mass).toBeCloseTo(1000 * 7850e-9, 12);
    const parts = ['base.stp', 'shaft.stp', 'std/screw.stp'].map((file) => ({ file, product: null }));
    const { preview, change } = await setMaterial(files, { parts, material: 'Steel', density: null });
    expect(preview.parts.map(({ name, before: old }) => [name, old])).toEqual([
      ['BASE', null],
      ['SHAFT', null],
      ['SCREW', null],
    ]);
    expect(change.changes).toHaveLength(3);
    const after = await billOf(files, {});
    const drive = (1000 + 10_000 + 4 * 500) * 7850e-9;
    expect(after.rows[0]!.mass).toBeCloseTo(drive, 12);
    expect(after.rows[0]!.totalMass).toBeCloseTo(2 * drive, 12);
    expect(after.totals.mass).toBeCloseTo(2 * drive + 100_000 * 7850e-9, 12);
    expect(after.summary).toContain('kg in all');
  });

  it('gives one part of a file another material, and only where that changes anything', async () => {
    const files = unit();
    const parts = [{ file: 'drive.stp', product: 'PLATE' }];
    await setMaterial(files, { parts, material: 'Unheard of', density: 1234 });
    const plate = (await billOf(files, {})).rows.find(({ name }) => name === 'PLATE')!;
    expect(plate).toMatchObject({ material: 'Unheard of', density: 1234 });
    const again = await setMaterial(files, { parts, material: 'Unheard of', density: 1234 });
    expect(again.change.changes).toEqual([]);
    const unknown = await setMaterial(files, { parts, material: 'Cork', density: null });
    expect(unknown.change.warnings).toEqual([expect.stringContaining('No density is known of Cork')]);
    await expect(
      setMaterial(files, { parts: [{ file: 'drive.stp', product: 'NO' }], material: 'Steel', density: null }),
    ).rejects.toThrow('drive.stp has no part NO');
    await expect(
      setMaterial(files, { parts: [{ file: 'unit.stp', product: null }], material: 'Steel', density: null }),
    ).rejects.toThrow('has no parts with bodies');
  });

  it('says what was added, is gone, is placed more often or is made of something else', async () => {
    const files = unit();
    const older = unit();
    const draft = planningOn(await scanFileSet(files), files).draft;
    draft.write(
      'unit.stp',
      testAssembly('UNIT', [
        { written: 'drive.stp', id: 'DRIVE', times: 3 },
        { written: 'std/screw.stp', id: 'SCREW' },
      ]),
    );
    await draft.move('shaft.stp', 'shafts/long.stp');
    await files.apply(await draft.finish('changed'));
    await setMaterial(files, {
      parts: [{ file: 'shafts/long.stp', product: null }],
      material: 'Brass',
      density: null,
    });
    const { differences, tables } = await billOf(files, { with: 'before' }, { before: older });
    expect(
      differences!.map(({ difference, name, before, after }) => [difference, name, before, after]),
    ).toEqual([
      ['gone', 'BASE', 1, null],
      ['quantity', 'DRIVE', 2, 3],
      ['quantity', 'PLATE', 2, 3],
      ['quantity', 'SCREW', 8, 13],
      ['quantity', 'SHAFT', 2, 3],
      ['material', 'SHAFT', null, 'Brass'],
    ]);
    expect(tables.map(({ title }) => title)).toEqual(['Bill of materials', 'Differences']);
  });

  it('goes on where a file is missing or not measured, and says so', async () => {
    const files = unit();
    const draft = planningOn(await scanFileSet(files), files).draft;
    await draft.remove('shaft.stp');
    await files.apply(await draft.finish('gone'));
    const { data } = await lookAt(
      BOM,
      lookContext(files, {
        measured: (path, project) => (path === 'base.stp' ? undefined : measured(path, project)),
      }),
      { file: 'unit.stp' },
    );
    expect(data.notes).toEqual([
      expect.stringMatching(/^1 file is not measured yet/),
      expect.stringMatching(/^1 file is not there/),
    ]);
    expect(data.rows.find(({ isMissing }) => isMissing)).toMatchObject({
      name: 'SHAFT',
      file: 'shaft.stp',
      mass: null,
    });
    await expect(billOf(files, { file: 'stonetray-project.json' })).rejects.toThrow('no product structure');
    await expect(billOf(files, { file: 'no.stp' })).rejects.toThrow('There is no file no.stp');
  });
});
