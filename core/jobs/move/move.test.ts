import { describe, expect, it } from 'vitest';
import { REMOVE } from '#core/jobs/remove/operation';
import { planningOn } from '#core/planning';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { MOVE } from './operation';
import type { Move } from './plan';

async function move(files: MemoryFileSet, ...moves: Move[]) {
  const context = planningOn(await scanFileSet(files), files);
  return MOVE.plan(context, MOVE.choices.parse({ moves }));
}

const linksOf = async (files: MemoryFileSet) =>
  (await scanFileSet(files)).links.map(({ holder, to, state }) => `${holder} -> ${to} ${state}`);

describe('a name that loses its ending', () => {
  it('is asked about, with a path that would do, unless it is said to be meant', async () => {
    const files = gearUnit();
    const context = planningOn(await scanFileSet(files), files);
    const choices = { moves: [{ from: 'parts/base.stp', to: 'parts/base-new' }], withoutEnding: false };
    const asked = await MOVE.plan(context, choices);
    expect(asked.hindrance).toContain('parts/base-new.stp would do');
    expect(asked.preview.moves[0]).toMatchObject({ dropsEnding: true, proposal: 'parts/base-new.stp' });
    const meant = await MOVE.plan(context, { ...choices, withoutEnding: true });
    expect(meant.hindrance).toBeUndefined();
    expect(meant.change.changes).toContainEqual(
      expect.objectContaining({ action: 'move', to: 'parts/base-new' }),
    );
  });
});

describe('moving files and folders', () => {
  it('takes every link along, many at once, in one change', async () => {
    const files = gearUnit();
    const { change, preview, hindrance } = await move(
      files,
      { from: 'parts', to: 'made' },
      { from: 'drive/drive.stp', to: 'drive/gear drive.stp' },
      { from: 'std/screw-m6.stp', to: 'norm/screw-m6.stp' },
    );
    expect(hindrance).toBeUndefined();
    expect(preview.moves.map(({ from, to, usedBy }) => [from, to, usedBy.join()])).toEqual([
      ['parts/base.stp', 'made/base.stp', 'unit.stp'],
      ['parts/housing.stp', 'made/housing.stp', ''],
      ['parts/left-over.stp', 'made/left-over.stp', ''],
      ['parts/lid_rev-b.stp', 'made/lid_rev-b.stp', ''],
      ['drive/drive.stp', 'drive/gear drive.stp', 'unit.stp'],
      ['std/screw-m6.stp', 'norm/screw-m6.stp', ''],
    ]);
    expect(change.summary).toBe('Moved 6 files');
    // Each holder is written once, whatever of its links moves.
    expect(change.changes).toHaveLength(7);
    const undo = await files.apply(change);
    expect(await linksOf(files)).toEqual([
      'drive/gear drive.stp -> made/housing.stp sound',
      'drive/gear drive.stp -> null missing',
      'drive/gear drive.stp -> norm/screw-m6.stp sound',
      'drive/gear drive.stp -> null ambiguous',
      'unit.stp -> drive/gear drive.stp sound',
      'unit.stp -> made/base.stp sound',
    ]);
    await files.apply(undo);
    expect(await linksOf(files)).toEqual(await linksOf(gearUnit()));
  });

  it('puts no two files in one place, and says when an ending belongs to another format', async () => {
    const files = gearUnit();
    const both = await move(
      files,
      { from: 'parts/base.stp', to: 'one.stp' },
      { from: 'parts/housing.stp', to: 'ONE.stp' },
    );
    expect(both.hindrance).toContain('Another file has this path.');
    expect(both.preview.moves.map(({ problem }) => problem)).toEqual([null, 'Another file has this path.']);
    expect(both.change.changes).toEqual([]);
    const renamed = await move(files, { from: 'drive/drive.stp', to: 'drive/drive.svg' });
    expect(renamed.change.warnings).toEqual([
      'drive/drive.stp gets the ending of another format. Its links to other files are not found any more.',
    ]);
    const kept = await move(files, { from: 'drive/drive.stp', to: 'drive/drive.p21' });
    expect(kept.change.warnings).toEqual([]);
  });

  it('lets names change hands, also in a circle', async () => {
    const top = testAssembly('TOP', [
      { written: 'a.stp', id: 'A' },
      { written: 'b.stp', id: 'B' },
    ]);
    const files = new MemoryFileSet([
      ['top.stp', top],
      ['a.stp', testAssembly('A', [])],
      ['b.stp', testAssembly('B', [])],
    ]);
    const { change } = await move(files, { from: 'a.stp', to: 'b.stp' }, { from: 'b.stp', to: 'a.stp' });
    await files.apply(change);
    const project = await scanFileSet(files);
    expect(project.files.get('b.stp')!.scan.products[0]!.id).toBe('A');
    expect(project.links.map(({ written, to, state }) => [written, to, state])).toEqual([
      ['b.stp', 'b.stp', 'sound'],
      ['a.stp', 'a.stp', 'sound'],
    ]);
  });

  it('may change nothing but the case of a name', async () => {
    const files = gearUnit();
    const { change } = await move(files, { from: 'parts/base.stp', to: 'parts/Base.stp' });
    expect(change.summary).toBe('Renamed parts/base.stp to Base.stp');
    await files.apply(change);
    expect(await linksOf(files)).toContain('unit.stp -> parts/Base.stp sound');
  });

  it.each<[string, Move, string, string]>([
    [
      'a path in use',
      { from: 'parts/base.stp', to: 'std/Washer.stp' },
      'Another file has this path.',
      'std/Washer-2.stp',
    ],
    [
      'a name no system stores',
      { from: 'parts/base.stp', to: 'parts/a:b.stp' },
      "':' is not allowed",
      'parts/a-b.stp',
    ],
    ['a way out of the folder', { from: 'parts/base.stp', to: '../base.stp' }, "'..' step", 'base.stp'],
    [
      'a file for a folder',
      { from: 'parts/base.stp', to: 'unit.stp/base.stp' },
      'unit.stp is a file',
      'parts/base.stp',
    ],
    ['a folder for a file', { from: 'unit.stp', to: 'parts' }, 'A folder has this name.', 'parts.stp'],
  ])('shows %s with a path that would do, and changes nothing', async (_, asked, problem, proposal) => {
    const { change, preview, hindrance } = await move(gearUnit(), asked);
    expect(preview.moves[0]).toMatchObject({ problem: expect.stringContaining(problem), proposal });
    expect(hindrance).toContain(problem);
    expect(change.changes).toEqual([]);
  });

  it('refuses what is not there, and a folder into itself', async () => {
    await expect(move(gearUnit(), { from: 'nowhere', to: 'x' })).rejects.toThrow('no file or folder nowhere');
    await expect(move(gearUnit(), { from: 'parts', to: 'parts/in' })).rejects.toThrow(
      'cannot go into itself',
    );
  });
});

describe('deleting files and folders', () => {
  const remove = async (files: MemoryFileSet, ...paths: string[]) =>
    REMOVE.plan(planningOn(await scanFileSet(files), files), { paths });

  it('says who uses them, and which links lead nowhere then', async () => {
    const files = gearUnit();
    const { change, preview } = await remove(files, 'parts/housing.stp', 'std/');
    expect(preview.files.map(({ path, users }) => [path, users])).toEqual([
      ['parts/housing.stp', 1],
      ['std/screw-m6.stp', 1],
      ['std/washer.stp', 0],
    ]);
    expect(preview.lost).toEqual([
      {
        holder: 'drive/drive.stp',
        kind: 'component',
        written: '../parts/housing.stp',
        to: 'parts/housing.stp',
        leadsTo: null,
      },
      {
        holder: 'drive/drive.stp',
        kind: 'component',
        written: 'C:\\work\\std\\screw-m6.stp',
        to: 'std/screw-m6.stp',
        leadsTo: null,
      },
    ]);
    expect(change.warnings).toEqual(['2 links in drive.stp will lead nowhere.']);
    const undo = await files.apply(change);
    expect((await files.list()).map(({ path }) => path)).not.toContain('std/washer.stp');
    await files.apply(undo);
    expect(await files.list()).toHaveLength(9);
  });

  it('says when another file of that name takes its place', async () => {
    const files = new MemoryFileSet([
      ['top.stp', testAssembly('TOP', [{ written: 'in/p.stp', id: 'P' }])],
      ['in/p.stp', testAssembly('P', [])],
      ['old/p.stp', testAssembly('P', [])],
    ]);
    const { change, preview } = await remove(files, 'in/p.stp');
    expect(preview.lost).toMatchObject([{ leadsTo: 'old/p.stp' }]);
    expect(change.warnings).toEqual([
      'top.stp will find old/p.stp in the place of in/p.stp: it has the same name.',
    ]);
    await expect(remove(files, 'nowhere/')).rejects.toThrow('There is no file or folder nowhere.');
  });
});
