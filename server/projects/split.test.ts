import { afterAll, describe, expect, it } from 'vitest';
import { write } from '#core/change/change-set';
import { MemoryFileSet } from '#core/change/memory';
import { extensionOf } from '#core/links/paths';
import { ThreadedKernel } from '#core/shape/threaded-kernel';
import { splitChoices } from '#core/split/choices';
import { type BoxToWrite, writeBoxPart } from '#core/testing/box-part';
import { closeDatabase, type Database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { requestShapes, shapesOf } from '#server/jobs/shapes';
import { runTask, startTask, type TaskName, taskState } from '#server/jobs/tasks';
import { testProject } from '#server/testing';
import type { AppliedChange } from '#server/views/planned-view';
import { outlineView, splitView } from '#server/views/split-view';
import type { Comparison } from '#server/worker/comparison';
import { makeShapes } from '#server/worker/make-shapes';
import { TASK_KINDS } from '#server/worker/task-kinds';
import { isMeasured, sourcesOf } from './follow';
import { loadProject } from './project-scan';
import { type AppliedSplit, makeOutline } from './split';
import { checkSplit } from './split-check';

const kernel = new ThreadedKernel();
afterAll(async () => {
  await kernel.close();
  await stopJobs();
  await closeDatabase();
});

const weld = (id: string, boxes: BoxToWrite[]) => writeBoxPart({ id, name: 'Weldment', boxes });
const BOXES: BoxToWrite[] = [
  { name: 'plate' },
  { name: 'plate 2', corner: [30, 0, 0] },
  { name: 'bar', corner: [0, 40, 0], size: [10, 10, 60] },
];

/** What the job worker does, here and now. */
async function prepare(db: Database, projectId: string) {
  const project = await loadProject(db, projectId);
  await requestShapes(db, project);
  for (const { path, sha256 } of project.files.values())
    await makeShapes(db, kernel, { sha256, extension: extensionOf(path) });
  return project;
}

async function newestChange(db: Database, projectId: string): Promise<string> {
  const row = await db('change_sets').where('project_id', projectId).orderBy('time', 'desc').first('id');
  return row!.id as string;
}

describe('splitting in a project', () => {
  it('waits for the shapes, shows the plan, applies it; a newer source is followed, and each step is undone', async () => {
    const id = `W-${crypto.randomUUID()}`;
    const made = await testProject(new MemoryFileSet([['weld.stp', weld(id, BOXES)]]));
    const { db, project, owner, fileSet } = made;
    const who = { project, user: owner.id };
    const task = async <Result>(kind: TaskName, request: object) => {
      const id = await startTask(db, who, kind, request);
      await runTask(db, kernel, TASK_KINDS, id);
      return (await taskState<Result>(db, who, id))!;
    };
    const before = await loadProject(db, project);
    const { sha256 } = before.files.get('weld.stp')!;
    const asked = { file: 'weld.stp', sha256, choices: splitChoices(), base: [] };
    await expect(makeOutline(db, project, owner.id, asked)).rejects.toThrow(/still being prepared/);
    expect(splitView(before, new Map(), project, null)).toMatchObject({
      path: 'weld.stp',
      ready: 'preparing',
    });

    // 1. The plan, and the change.
    await prepare(db, project);
    const { scanned, outline } = await makeOutline(db, project, owner.id, asked);
    expect(outlineView(scanned, outline, asked.choices)).toMatchObject({
      components: [
        { name: 'plate', bodies: [0, 1] },
        { name: 'bar', bodies: [2] },
      ],
      assembly: 'weld/weld-assembly.stp',
      base: [{ path: 'weld.stp', base: sha256 }],
    });
    expect(splitView(scanned, await shapesOf(db, scanned), project, 'weld.stp')).toMatchObject({
      ready: 'ready',
      bodies: [{ size: [10, 10, 10] }, {}, { size: [60, 10, 10], faces: 6, error: null }],
    });
    expect(await task('split', { ...asked, base: [{ path: 'weld.stp', base: sha256 }] })).toMatchObject({
      state: 'done',
      result: { assembly: outline.assembly },
    });
    const undoing = await newestChange(db, project);
    await fileSet.applyAs(await fileSet.planUndo(undoing), undoing);
    const { result: split } = await task<AppliedSplit>('split', asked);
    const { applied: splitId, check } = split!;
    expect(check).toEqual({
      product: null,
      sha256,
      bodies: outline.source.bodies.map(({ id }) => id),
      assembly: outline.assembly,
    });
    expect(await checkSplit(db, project, check)).toBeNull();
    const after = await prepare(db, project);
    expect(await checkSplit(db, project, check)).toMatchObject({ isSame: true, after: { bodies: 3 } });
    const fewer = { ...check, bodies: check.bodies.slice(1) };
    expect(await checkSplit(db, project, fewer)).toMatchObject({ isSame: false, before: { bodies: 2 } });
    await expect(checkSplit(db, project, { ...check, assembly: 'x.stp' })).rejects.toThrow(/no longer there/);
    expect(sourcesOf(after)).toEqual([{ path: 'weld.stp', files: 3, behind: 0 }]);

    // 2. A newer version of the source.
    const longer = BOXES.map((box) => (box.name === 'bar' ? { ...box, size: [10, 10, 70] as const } : box));
    await fileSet.applyAs({
      summary: 'Newer',
      changes: [write('weld.stp', sha256, weld(id, longer))],
      rewires: [],
      warnings: [],
    });
    await expect(makeOutline(db, project, owner.id, asked)).rejects.toThrow(/has changed since this page/);
    const behind = await prepare(db, project);
    expect(sourcesOf(behind)).toEqual([{ path: 'weld.stp', files: 3, behind: 3 }]);
    expect(await task('split', asked)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/has changed since this page/),
    });
    expect(await isMeasured(db, behind, 'weld.stp')).toBe(true);
    const wanted = { source: 'weld.stp', removeGone: true, take: [] };
    const { result: comparison } = await task<Comparison>('comparison', { ...wanted, revision: 3 });
    const { lines, scene, plan } = comparison!;
    expect(lines.map(({ change }) => change)).toEqual(['changed', 'unchanged', 'unchanged']);
    expect(scene.instances.map(({ tone }) => tone)).toEqual(['focus', undefined, undefined]);
    expect(plan).toMatchObject({ created: 0, renewed: 3, warnings: [] });
    const stale = plan!.base.map(({ path }) => ({ path, base: sha256 }));
    expect(await task('follow', { ...wanted, base: stale })).toMatchObject({ state: 'failed' });
    const followed = await task<AppliedChange>('follow', { ...wanted, base: plan!.base });
    const followId = followed.result!.applied;
    expect(sourcesOf(await loadProject(db, project))).toEqual([{ path: 'weld.stp', files: 3, behind: 0 }]);
    await prepare(db, project);
    expect(await task('comparison', { ...wanted, revision: 4 })).toMatchObject({
      state: 'done',
      result: { lines: [{}, {}, {}], plan: null },
    });

    // 3. Cut loose, and back again.
    const { result: untied } = await task<AppliedChange>('cut-tie', { source: 'weld.stp', file: null });
    expect(sourcesOf(await loadProject(db, project))).toEqual([]);
    await fileSet.applyAs(await fileSet.planUndo(untied!.applied), untied!.applied);
    await fileSet.applyAs(await fileSet.planUndo(followId), followId);
    expect(sourcesOf(await loadProject(db, project))[0]!.behind).toBe(3);
    await fileSet.applyAs(await fileSet.planUndo(splitId), splitId);
    expect([...(await loadProject(db, project)).files.keys()]).toEqual(['weld.stp']);
  });
});
