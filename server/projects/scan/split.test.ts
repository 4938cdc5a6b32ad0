import { afterAll, describe, expect, it } from 'vitest';
import { extensionOf } from '#core/files/links/paths';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import type { FollowPreview } from '#core/jobs/follow/view';
import { splitChoices } from '#core/jobs/split/choices';
import type { SplitOutlineView } from '#core/jobs/split/view';
import { write } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { type BoxToWrite, writeBoxPart } from '#core/testing/box-part';
import { closeDatabase, type Database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { runTask } from '#server/jobs/run-task';
import { requestShapes, shapesOf } from '#server/jobs/shapes';
import { startTask, type TaskName, taskState } from '#server/jobs/tasks';
import { isMeasured, sourcesOf } from '#server/projects/catalogue/sources';
import { testProject } from '#server/testing';
import type { AppliedChange, PlannedView } from '#server/views/operations/planned-view';
import { splitView } from '#server/views/operations/split-view';
import { makeShapes } from '#server/worker/make-shapes';
import { TASK_KINDS } from '#server/worker/task-kinds';
import { loadProject } from './project-scan';
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
    const run = async <Result>(kind: TaskName, request: object) => {
      const task = await startTask(db, who, kind, request);
      await runTask(db, kernel, TASK_KINDS, task);
      return (await taskState<Result>(db, who, task))!;
    };
    const plan = <Preview>(operation: string, choices: object) =>
      run<PlannedView<Preview>>('plan', { operation, choices });
    const apply = async <Preview>(
      operation: string,
      choices: object,
      shown?: Pick<PlannedView<Preview>, 'seen'>,
    ) => {
      const { seen } = shown ?? (await plan<Preview>(operation, choices)).result!;
      return run<AppliedChange & { preview: Preview }>('apply', { operation, choices, seen });
    };
    const before = await loadProject(db, project);
    const { sha256 } = before.files.get('weld.stp')!;
    const asked = { ...splitChoices(), file: 'weld.stp' };
    expect(await plan('split', asked)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/still being prepared/),
    });
    expect(splitView(before, new Map(), project, null)).toMatchObject({
      path: 'weld.stp',
      ready: 'preparing',
    });

    // 1. The plan, and the change.
    const scanned = await prepare(db, project);
    const { result: shown } = await plan<SplitOutlineView>('split', asked);
    expect(shown).toMatchObject({
      preview: {
        components: [
          { name: 'plate', bodies: [0, 1] },
          { name: 'bar', bodies: [2] },
        ],
        assembly: 'weld/weld-assembly.stp',
      },
      files: [
        { does: 'new', path: 'weld/plate.stp' },
        { does: 'new', path: 'weld/bar.stp' },
        { does: 'new', path: 'weld/weld-assembly.stp' },
      ],
    });
    expect(shown!.seen).toContainEqual({ path: 'weld.stp', base: sha256 });
    expect(splitView(scanned, await shapesOf(db, scanned, project), project, 'weld.stp')).toMatchObject({
      ready: 'ready',
      bodies: [{ size: [10, 10, 10] }, {}, { size: [60, 10, 10], faces: 6, error: null }],
    });
    expect(await apply('split', asked, shown!)).toMatchObject({
      state: 'done',
      result: { preview: { assembly: 'weld/weld-assembly.stp' } },
    });
    const undoing = await newestChange(db, project);
    await fileSet.applyAs(await fileSet.planUndo(undoing));
    const { result: split } = await apply<SplitOutlineView>('split', asked, shown!);
    const {
      applied: splitId,
      preview: { check },
    } = split!;
    expect(check).toMatchObject({ product: null, sha256, assembly: 'weld/weld-assembly.stp' });
    expect(check.bodies).toHaveLength(3);
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
    const behind = await prepare(db, project);
    expect(sourcesOf(behind)).toEqual([{ path: 'weld.stp', files: 3, behind: 3 }]);
    expect(await apply('split', asked, shown!)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/weld\.stp has changed since/),
    });
    expect(await isMeasured(db, behind, 'weld.stp')).toBe(true);
    const wanted = { source: 'weld.stp' };
    const { result: comparison } = await plan<FollowPreview>('follow', wanted);
    const { lines, scene } = comparison!.preview;
    expect(lines.map(({ change }) => change)).toEqual(['changed', 'unchanged', 'unchanged']);
    expect(scene.instances.map(({ tone }) => tone)).toEqual(['focus', undefined, undefined]);
    expect(comparison).toMatchObject({ warnings: [], files: [{}, {}, {}] });
    expect(comparison!.files.map(({ does }) => does)).toEqual(['written', 'written', 'written']);
    const stale = comparison!.seen.map(({ path }) => ({ path, base: sha256 }));
    expect(await apply('follow', wanted, { seen: stale })).toMatchObject({ state: 'failed' });
    const followed = await apply('follow', wanted, comparison!);
    const followId = followed.result!.applied!;
    expect(sourcesOf(await loadProject(db, project))).toEqual([{ path: 'weld.stp', files: 3, behind: 0 }]);
    await prepare(db, project);
    expect(await plan('follow', wanted)).toMatchObject({
      state: 'done',
      result: { preview: { lines: [{}, {}, {}] }, files: [] },
    });

    // 3. Detached, and back again.
    const { result: untied } = await apply('detach', wanted);
    expect(sourcesOf(await loadProject(db, project))).toEqual([]);
    await fileSet.applyAs(await fileSet.planUndo(untied!.applied!));
    await fileSet.applyAs(await fileSet.planUndo(followId));
    expect(sourcesOf(await loadProject(db, project))[0]!.behind).toBe(3);
    await fileSet.applyAs(await fileSet.planUndo(splitId!));
    expect([...(await loadProject(db, project)).files.keys()]).toEqual(['weld.stp']);
  });
});
