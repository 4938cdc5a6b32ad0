import { afterAll, describe, expect, it } from 'vitest';
import type { Kernel } from '#core/geometry/shape/kernel';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import type { CutPreview } from '#core/jobs/cut/view';
import { openPackage } from '#core/jobs/handoff/open-package';
import { reportOf } from '#core/jobs/scan/scan-report';
import { operationNamed } from '#core/operations';
import { write } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { streamBlob } from '#server/db/blobs';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { doneWithFile, readLog, recordedChange } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { operationsIn, testProject } from '#server/testing';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

async function setUp(files: MemoryFileSet, kernel = {} as Kernel) {
  const { db, project, owner, fileSet } = await testProject(files);
  const operations = operationsIn(db, { project, user: owner.id }, kernel);
  return { db, project, fileSet, ...operations };
}

/** Files that write their links in two forms that others do not follow. */
const oldForms = () =>
  new MemoryFileSet([
    ['top.stp', testAssembly('TOP', [{ written: 'sub.stp', id: 'SUB' }], 'associated')],
    ['sub.stp', testAssembly('SUB', [{ written: 'in/p.stp', id: 'P' }], 'folder and name')],
    ['in/p.stp', writeBoxPart({ id: 'P' })],
  ]);

const LID = {
  set: [
    {
      holder: 'drive/drive.stp',
      kind: 'component',
      written: '..\\parts\\lid.stp',
      target: 'parts/lid_rev-b.stp',
    },
  ],
};

describe('operations in a project', () => {
  it('are carried out as they were shown, in one change that remembers its operation and choices', async () => {
    const { db, project, plan, apply } = await setUp(oldForms());
    const before = await loadProject(db, project);
    const { result: shown } = await plan('renew', {});
    expect(shown!.files).toEqual([
      { does: 'written', path: 'sub.stp' },
      { does: 'written', path: 'top.stp' },
    ]);
    expect(shown!.seen).toEqual(
      ['sub.stp', 'top.stp'].map((path) => ({ path, base: before.files.get(path)!.sha256 })),
    );
    const done = await apply('renew', {}, shown!);
    expect(done).toMatchObject({
      state: 'done',
      result: { summary: 'Renewed how links are written in 2 files' },
    });
    const after = await loadProject(db, project);
    expect(reportOf(after).links).toEqual(reportOf(before).links);
    const row = await db('change_sets').where('id', done.result!.applied).first('made');
    expect(row.made).toEqual({ operation: 'renew', choices: { paths: null } });
    expect(await apply('renew', {}, shown!)).toMatchObject({ state: 'failed' });
    expect(await plan('renew', { paths: ['top.stp'] })).toMatchObject({
      state: 'failed',
      error: 'These files are written as others follow them by now.',
    });
  });

  it('change nothing when what they rest on is no longer what was shown', async () => {
    const { db, project, fileSet, plan, apply } = await setUp(gearUnit());
    const { result: shown } = await plan('repair', LID);
    const holder = (await loadProject(db, project)).files.get('drive/drive.stp')!;
    const edited = Buffer.concat([await fileSet.read('drive/drive.stp'), Buffer.from('/* seen */')]);
    await fileSet.applyAs({
      summary: 'Edited by somebody else',
      changes: [write('drive/drive.stp', holder.sha256, edited)],
      rewires: [],
      warnings: [],
    });
    expect(await apply('repair', LID, shown!)).toMatchObject({
      state: 'failed',
      error: expect.stringContaining('drive/drive.stp has changed since'),
    });
    expect(Buffer.from(await fileSet.read('drive/drive.stp')).equals(edited)).toBe(true);
    // Looked at again, it is fine.
    const { result: again } = await plan('repair', LID);
    expect(await apply('repair', LID, again!)).toMatchObject({ state: 'done' });
  });

  it('are all made where they concern different things of one file, however many come at once', async () => {
    const { db, project, plan, apply } = await setUp(gearUnit());
    const moves = [
      { from: 'parts/base.stp', to: 'new/base.stp' },
      { from: 'drive', to: 'drives' },
    ].map((move) => ({ moves: [move] }));
    const shown = await Promise.all(moves.map((choices) => plan('move', choices)));
    const done = await Promise.all(moves.map((choices, n) => apply('move', choices, shown[n]!.result!)));
    expect(done.map(({ state, error }) => [state, error])).toEqual([
      ['done', null],
      ['done', null],
    ]);
    const { files, links } = await loadProject(db, project);
    expect(['new/base.stp', 'drives/drive.stp'].map((path) => files.has(path))).toEqual([true, true]);
    const uses = links.filter(({ holder }) => holder === 'unit.stp').map(({ state, to }) => `${state} ${to}`);
    expect(uses.sort()).toEqual(['sound drives/drive.stp', 'sound new/base.stp']);
  });

  it('of which many are asked for at once are made once, and are a conflict for all others', async () => {
    const { plan, apply } = await setUp(gearUnit());
    const { result: shown } = await plan('repair', LID);
    const done = await Promise.all(Array.from({ length: 30 }, () => apply('repair', LID, shown!)));
    expect(done.filter(({ state }) => state === 'done')).toHaveLength(1);
    for (const { state, error } of done)
      if (state !== 'done') expect(error).toMatch(/^Nothing was changed: drive\/drive.stp has changed since/);
  });

  it('are taken back by an operation like any other, once, unless something came after', async () => {
    const { db, project, fileSet, plan, apply } = await setUp(gearUnit());
    const before = await fileSet.list();
    const { result: shown } = await plan('repair', LID);
    const { result: repaired } = await apply('repair', LID, shown!);
    const undo = { change: repaired!.applied };
    const { result: back } = await plan('undo', undo);
    expect(back).toMatchObject({
      summary: 'Undid: Repaired 1 link in drive/drive.stp',
      files: [{ does: 'written', path: 'drive/drive.stp' }],
      seen: [{ path: 'drive/drive.stp' }],
    });
    const undone = (await apply('undo', undo, back!)).result!;
    expect(await fileSet.list()).toEqual(before);
    const [entry, first] = await readLog(db, project);
    expect(entry!.changeSet).toMatchObject({ isUndo: true, made: null });
    expect(first!.changeSet).toMatchObject({ undone: true, made: 'repair' });
    expect(await plan('undo', undo)).toMatchObject({ error: 'This change was already undone.' });
    expect(await plan('undo', { change: 'no such' })).toMatchObject({
      error: 'No change in this project has the id no such.',
    });
    expect(await recordedChange(db, project, repaired!.applied!)).toMatchObject({
      made: { operation: 'repair', choices: LID },
    });

    // Without a name the latest is meant that still stands; what was taken back can be made again, until something else is done.
    expect((await plan('undo', {})).result!.summary).toMatch(/^Undid: Imported test files/);
    const forward = (await plan('redo', {})).result!;
    expect(forward.summary).toBe('Redid: Repaired 1 link in drive/drive.stp');
    const { result: redone } = await apply('redo', {}, forward);
    expect(await plan('redo', {})).toMatchObject({
      error: expect.stringContaining('Nothing was taken back'),
    });
    const again = (await plan('undo', {})).result!;
    expect(again.summary).toBe('Undid: Repaired 1 link in drive/drive.stp');
    undone.applied = (await apply('undo', {}, again)).result!.applied;
    expect(redone!.applied).not.toBe(undone.applied);
    // What came after is never lost.
    const { sha256 } = (await fileSet.list()).find(({ path }) => path === 'drive/drive.stp')!;
    const edited = Buffer.concat([await fileSet.read('drive/drive.stp'), Buffer.from('/* later */')]);
    const changes = [write('drive/drive.stp', sha256, edited)];
    await fileSet.applyAs({ summary: 'Edited', changes, rewires: [], warnings: [] });
    expect(await plan('undo', { change: undone.applied })).toMatchObject({
      error: expect.stringContaining('drive/drive.stp has changed since'),
    });
  });

  it('record nothing when there is nothing to change any more', async () => {
    const { db, project, apply } = await setUp(gearUnit());
    const before = await db('change_sets').where('project_id', project);
    expect(await apply('repair', { set: [] }, { seen: [] })).toMatchObject({
      error: expect.stringContaining('nothing to change any more'),
    });
    expect(await db('change_sets').where('project_id', project)).toEqual(before);
  });

  it('say in words what they do not take', async () => {
    const { plan } = await setUp(gearUnit());
    expect(await plan('no such', {})).toMatchObject({ error: 'There is no operation no such.' });
    expect(await plan('repair', { set: [{ holder: 1 }] })).toMatchObject({
      error: expect.stringMatching(/^The choices for repair cannot be read: set\.0\.holder: /),
    });
  });

  it('tell a defect by a number and not by its words', async () => {
    const { db, project, fileSet, plan } = await setUp(gearUnit());
    const real = operationNamed('repair')!;
    const { plan: planned } = real;
    real.plan = async () => {
      throw new TypeError('x is undefined');
    };
    const { error } = await plan('repair', LID).finally(() => {
      real.plan = planned;
    });
    expect(error).toMatch(/It is our fault, not yours\. Nothing was changed\..* number [2-9A-HJ-NP-Z]{6}\.$/);
    expect(error).not.toContain('undefined');
    expect(await fileSet.list()).toHaveLength((await loadProject(db, project)).files.size);
  });
});

describe('a cut', () => {
  const across = (x: number) => ({
    piece: '',
    cutter: { kind: 'plane', at: [x, 0, 0], normal: [1, 0, 0] },
  });
  const setUpBar = async () => {
    const made = await setUp(
      new MemoryFileSet([
        [
          'bar.stp',
          writeBoxPart({
            id: 'BAR',
            boxes: [
              { name: 'bar', size: [100, 20, 10] },
              { name: 'pin', corner: [0, 50, 0] },
            ],
          }),
        ],
        ['unit.stp', testAssembly('UNIT', [{ written: 'bar.stp', id: 'BAR' }])],
      ]),
      kernel,
    );
    const products = async () =>
      (await loadProject(made.db, made.project)).files.get('bar.stp')!.scan.products;
    const body = (await products())[0]!.bodies[0]!.id;
    const names = async () => (await products())[0]!.bodies.map(({ name }) => name);
    return { ...made, asked: { file: 'bar.stp', body, steps: [across(30)] }, names };
  };
  const kernel = new ThreadedKernel();
  afterAll(() => kernel.close());

  it('is looked at first, kept as it was shown, and undone', async () => {
    const { db, project, fileSet, plan, apply, asked, names } = await setUpBar();
    const { id, result: shown } = await plan<CutPreview>('cut', asked);
    expect(
      shown!.preview.pieces.map(({ path, facts, snaps }) => [path, Math.round(facts.volume), snaps.length]),
    ).toEqual([
      ['1', 14_000, 20],
      ['2', 6000, 20],
    ]);
    // The picture is kept for the page, as long as the task.
    const [kept] = await db('task_blobs').where('task_id', id).select('sha256');
    expect(shown!.preview.url).toBe(`/projects/${project}/pictures/${kept!.sha256}`);
    expect(await names()).toEqual(['bar', 'pin']);
    // Pieces that become components are files.
    const nested = await plan('cut', { ...asked, as: 'nested', names: { '2': 'end' } });
    expect(nested.result!.files.map(({ does, path }) => `${does} ${path}`)).toEqual([
      'new bar/bar-1.stp',
      'new bar/end.stp',
      'written bar.stp',
      'new bar/bar-assembly.stp',
      'written unit.stp',
    ]);

    const named = { ...asked, names: { '2': 'end' } };
    const done = await apply('cut', named, shown!);
    expect(done).toMatchObject({ state: 'done' });
    expect(await names()).toEqual(['pin', 'bar 1', 'end']);
    const cuts = () => doneWithFile(db, project, 'bar.stp', ['cut']);
    expect(await cuts()).toMatchObject([{ operation: 'cut', summary: done.result!.summary, who: 'Owner' }]);
    // What was shown is gone: it cannot be cut twice.
    expect(await apply('cut', named, shown!)).toMatchObject({ state: 'failed' });
    await fileSet.applyAs(await fileSet.planUndo(done.result!.applied!));
    expect(await names()).toEqual(['bar', 'pin']);
    // What was taken back was not done.
    expect(await cuts()).toEqual([]);
  });

  it('that cannot be made says which step and why', async () => {
    const { plan, asked } = await setUpBar();
    expect(await plan('cut', { ...asked, steps: [across(30), { ...across(90), piece: '2' }] })).toMatchObject(
      {
        state: 'failed',
        error: expect.stringMatching(/^Cut 2: The cut misses/),
      },
    );
  });
});

describe('a package', () => {
  it('is written by a job and streamed out whole', async () => {
    const { db, project, plan, apply } = await setUp(gearUnit());
    const asked = { file: 'unit.stp', allowBroken: true };
    const { result: shown } = await plan('package', asked);
    expect(shown).toMatchObject({ makes: 'unit.zip', files: [], hindrance: null });
    const { result } = await apply('package', asked, shown!);
    expect(result).toMatchObject({ applied: null, product: { name: 'unit.zip' } });
    const { stream, bytes } = await streamBlob(db, result!.product!.sha256);
    const streamed = Buffer.from(await new Response(stream).arrayBuffer());
    expect(streamed.byteLength).toBe(bytes);
    const opened = await openPackage(streamed);
    expect(opened.list?.root).toBe('unit.stp');
    expect(opened.payload.size).toBeGreaterThan(3);
    expect(await db('log').where({ project_id: project, kind: 'package' })).toHaveLength(1);
    // The file says so, wherever it goes, and no other does.
    const { result: moving } = await plan('move', { moves: [{ from: 'unit.stp', to: 'top/unit.stp' }] });
    await apply('move', { moves: [{ from: 'unit.stp', to: 'top/unit.stp' }] }, moving!);
    expect(await doneWithFile(db, project, 'top/unit.stp', ['package', 'cut'])).toMatchObject([
      { operation: 'package', summary: result!.summary },
    ]);
    expect(await doneWithFile(db, project, 'drive/drive.stp', ['package', 'move'])).toEqual([]);
  });

  it('refuses broken links unless told to go on, and says so', async () => {
    const { db, project, plan, apply } = await setUp(gearUnit());
    const { result: shown } = await plan('package', { file: 'unit.stp' });
    expect(shown).toMatchObject({
      makes: null,
      hindrance: expect.stringMatching(/^2 links are broken/),
      preview: { broken: [{}, {}] },
    });
    expect(await apply('package', { file: 'unit.stp' }, shown!)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/links are broken/),
    });
    expect(await db('log').where({ project_id: project, kind: 'package' })).toEqual([]);
  });
});
