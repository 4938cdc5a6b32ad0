import { afterAll, describe, expect, it } from 'vitest';
import { MemoryFileSet } from '#core/change/memory';
import { CutChoices } from '#core/cut/plan';
import type { CutStep } from '#core/shape/cut';
import { ThreadedKernel } from '#core/shape/threaded-kernel';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { testProject } from '#server/testing';
import { CutSteps, cancelCut, cutState, planStoredCut, runCut, startCut } from './cuts';
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
  const start = (steps: CutStep[]) =>
    startCut(db, project, owner.id, {
      file: 'bar.stp',
      sha256: file.sha256,
      body,
      steps: CutSteps.parse(steps),
    });
  const state = (id: string) => cutState(db, project, owner.id, id);
  const plan = (id: string, choices: Partial<CutChoices> = {}) =>
    planStoredCut(db, project, owner.id, id, CutChoices.parse(choices));
  return { db, project, owner, start, state, plan };
}

describe('cuts', () => {
  it('are made by a job, change nothing until they are kept, and are undone', async () => {
    const { db, project, owner, start, state, plan } = await setUp();
    const id = await start([across(30)]);
    expect(await state(id)).toMatchObject({ state: 'waiting', pieces: null });
    await expect(plan(id)).rejects.toThrow('cut again');
    await runCut(db, kernel, id);
    const done = (await state(id))!;
    expect(done).toMatchObject({ state: 'done', done: 1, gltf: expect.any(String) });
    expect(
      done.pieces!.map(({ path, facts, snaps }) => [path, Math.round(facts.volume), snaps.length]),
    ).toEqual([
      ['1', 14_000, 20],
      ['2', 6000, 20],
    ]);
    expect(await cutState(db, project, crypto.randomUUID(), id)).toBeUndefined();
    const names = async () =>
      (await loadProject(db, project)).files.get('bar.stp')!.scan.products[0]!.bodies.map(({ name }) => name);
    expect(await names()).toEqual(['bar', 'pin']);

    const { plan: changes, files: target } = await plan(id, { names: { '2': 'end' } });
    const applied = await target.applyAs(changes);
    expect(await names()).toEqual(['pin', 'bar 1', 'end']);
    // The version that was cut is no longer the newest: it cannot be cut twice.
    await expect(plan(id)).rejects.toThrow('has changed since');
    await expect(start([across(50)])).rejects.toThrow('has changed since');
    await target.applyAs(await target.planUndo(applied), applied);
    expect(await names()).toEqual(['bar', 'pin']);
    const nested = await plan(id, { as: 'nested' });
    await nested.files.applyAs(nested.plan);
    expect([...(await loadProject(db, project)).files.keys()].sort()).toEqual([
      'bar.stp',
      'bar/bar-1.stp',
      'bar/bar-2.stp',
      'bar/bar-assembly.stp',
      'unit.stp',
    ]);
    await db('cuts').where({ user_id: owner.id }).delete();
  });

  it('that cannot be made say which step and why', async () => {
    const { db, start, state } = await setUp();
    const id = await start([across(30), { ...across(90), piece: '2' }]);
    await runCut(db, kernel, id);
    expect(await state(id)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/^Cut 2: The cut misses/),
    });
  });

  it('are not made when they were cancelled, and go after a day with their pieces', async () => {
    const { db, start, state, project, owner } = await setUp();
    const cancelled = await start([across(30)]);
    await cancelCut(db, project, owner.id, cancelled);
    await runCut(db, kernel, cancelled);
    expect(await state(cancelled)).toMatchObject({ state: 'cancelled', gltf: null });

    const old = await start([across(41)]);
    await runCut(db, kernel, old);
    const { gltf, pieces } = (await state(old))!;
    const kept = [gltf!, ...pieces!.map(({ step }) => step)];
    expect(await db('blobs').whereIn('sha256', kept)).toHaveLength(3);
    await db('cuts')
      .where('id', old)
      .update({ time: db.raw(`now() - interval '2 days'`) });
    await start([across(42)]);
    expect(await state(old)).toBeUndefined();
    expect(await db('blobs').whereIn('sha256', kept)).toHaveLength(0);
  });
});
