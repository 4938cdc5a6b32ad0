import { afterAll, describe, expect, it } from 'vitest';
import { MemoryFileSet } from '#core/change/memory';
import { CutChoices } from '#core/cut/plan';
import type { CutStep } from '#core/shape/cut';
import { ThreadedKernel } from '#core/shape/threaded-kernel';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { runTask, startTask, taskState } from '#server/jobs/tasks';
import { testProject } from '#server/testing';
import type { AppliedChange } from '#server/views/planned-view';
import { TASK_KINDS } from '#server/worker/task-kinds';
import { type CutResult, planStoredCut } from './cuts';
import { ProjectFileSet } from './project-files';
import { loadProject } from './project-scan';

const kernel = new ThreadedKernel();
afterAll(async () => {
  await kernel.close();
  await stopJobs();
  await closeDatabase();
});

const files = () =>
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
  ]);
const across = (x: number): CutStep => ({
  piece: '',
  cutter: { kind: 'plane', at: [x, 0, 0], normal: [1, 0, 0] },
});

async function setUp() {
  const { db, project, owner } = await testProject(files());
  const file = (await loadProject(db, project)).files.get('bar.stp')!;
  const body = file.scan.products[0]!.bodies[0]!.id;
  const who = { project, user: owner.id };
  const start = (steps: CutStep[]) =>
    startTask(db, who, 'cut', { file: 'bar.stp', sha256: file.sha256, body, steps });
  const run = (id: string) => runTask(db, kernel, TASK_KINDS, id);
  const state = (id: string) => taskState<CutResult>(db, who, id);
  const plan = (id: string, choices: Partial<CutChoices> = {}) =>
    planStoredCut(db, who, id, CutChoices.parse(choices));
  const keep = async (cut: string, choices: Partial<CutChoices>) => {
    const id = await startTask(db, who, 'keep-pieces', { cut, choices: CutChoices.parse(choices) });
    await run(id);
    return (await taskState<AppliedChange>(db, who, id))!;
  };
  return { db, project, owner, start, run, state, plan, keep };
}

describe('cuts', () => {
  it('are made by a job, change nothing until they are kept, and are undone', async () => {
    const { db, project, owner, start, run, state, plan, keep } = await setUp();
    const id = await start([across(30)]);
    await expect(plan(id)).rejects.toThrow('cut again');
    await run(id);
    const done = (await state(id))!;
    expect(done).toMatchObject({ state: 'done', result: { gltf: expect.any(String) } });
    expect(
      done.result!.pieces.map(({ path, facts, snaps }) => [path, Math.round(facts.volume), snaps.length]),
    ).toEqual([
      ['1', 14_000, 20],
      ['2', 6000, 20],
    ]);
    const names = async () =>
      (await loadProject(db, project)).files.get('bar.stp')!.scan.products[0]!.bodies.map(({ name }) => name);
    expect(await names()).toEqual(['bar', 'pin']);

    const { result } = await keep(id, { names: { '2': 'end' } });
    const { applied } = result!;
    const target = new ProjectFileSet(db, project, owner.id);
    expect(await names()).toEqual(['pin', 'bar 1', 'end']);
    // The version that was cut is no longer the newest: it cannot be cut twice.
    await expect(plan(id)).rejects.toThrow('has changed since');
    expect(await keep(id, {})).toMatchObject({
      state: 'failed',
      error: expect.stringMatching('has changed since'),
    });
    const late = await start([across(50)]);
    await run(late);
    expect(await state(late)).toMatchObject({ state: 'failed', error: expect.stringMatching('has changed') });
    await target.applyAs(await target.planUndo(applied), applied);
    expect(await names()).toEqual(['bar', 'pin']);
    await keep(id, { as: 'nested' });
    expect([...(await loadProject(db, project)).files.keys()].sort()).toEqual([
      'bar.stp',
      'bar/bar-1.stp',
      'bar/bar-2.stp',
      'bar/bar-assembly.stp',
      'unit.stp',
    ]);
  });

  it('that cannot be made say which step and why', async () => {
    const { start, run, state } = await setUp();
    const id = await start([across(30), { ...across(90), piece: '2' }]);
    await run(id);
    expect(await state(id)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/^Cut 2: The cut misses/),
    });
  });

  it('keep their pieces as long as the task is kept', async () => {
    const { db, start, run, state } = await setUp();
    const id = await start([across(41)]);
    await run(id);
    const { gltf, pieces } = (await state(id))!.result!;
    const kept = new Set([gltf, ...pieces.map(({ step }) => step)]);
    expect(
      new Set((await db('task_blobs').where('task_id', id).select('sha256')).map(({ sha256 }) => sha256)),
    ).toEqual(kept);
    expect(await db('blobs').whereIn('sha256', [...kept])).toHaveLength(3);
  });
});
