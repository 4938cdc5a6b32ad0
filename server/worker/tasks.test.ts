import { afterAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Kernel } from '#core/geometry/shape/kernel';
import { write } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { Refusal } from '#core/refusal';
import { putBlob } from '#server/db/blobs';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { runTask } from '#server/jobs/run-task';
import {
  cancelTask,
  startTask,
  type TaskContext,
  type TaskKind,
  type TaskName,
  taskKind,
  taskState,
  waitForTask,
} from '#server/jobs/tasks';
import { applyInTask } from '#server/operations/apply-in-task';
import { ProjectFileSet } from '#server/projects/files/project-files';
import { testProject } from '#server/testing';
import { TASK_KINDS } from './task-kinds';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

type Work = (context: TaskContext<{ made: string }>) => Promise<void>;

/** A project, and a worker that does whatever it is told when it is asked for a package. */
async function setUp(work: Work) {
  const { db, project, owner } = await testProject(new MemoryFileSet([['a.txt', Buffer.from('old')]]));
  const who = { project, user: owner.id };
  const kinds: { [name in TaskName]: TaskKind } = {
    ...TASK_KINDS,
    apply: taskKind({ request: z.object({ n: z.int() }), run: work }),
  };
  const start = (n = 1) => startTask(db, who, 'apply', { n });
  const run = (id: string) => runTask(db, {} as Kernel, kinds, id);
  const state = (id: string) => taskState<{ made: string }>(db, who, id);
  return { db, who, start, run, state };
}

describe('tasks', () => {
  it('wait, say how far they are, and end with their result, which nobody else sees', async () => {
    const seen: unknown[] = [];
    const { db, who, start, run, state } = await setUp(async ({ report, finish }) => {
      await report('Making it', 1, 4);
      seen.push(await state(id));
      await finish({ made: 'this' });
    });
    const id = await start();
    expect(await state(id)).toMatchObject({ state: 'waiting', kind: 'apply', result: null });
    expect(await waitForTask(db, who, id, 100)).toMatchObject({ state: 'waiting' });
    await run(id);
    expect(seen).toMatchObject([{ state: 'running', doing: 'Making it', done: 1, total: 4 }]);
    expect(await waitForTask(db, who, id, 100)).toMatchObject({
      state: 'done',
      doing: '',
      done: 4,
      result: { made: 'this' },
    });
    expect(await taskState(db, { ...who, user: crypto.randomUUID() }, id)).toBeUndefined();
    // A job that is delivered once more does nothing.
    await run(id);
    expect(seen).toHaveLength(1);
  });

  it('fail in words', async () => {
    const { start, run, state } = await setUp(async () => {
      throw new Refusal('weld.stp cannot be read.');
    });
    const id = await start();
    await run(id);
    expect(await state(id)).toMatchObject({ state: 'failed', error: 'weld.stp cannot be read.' });
  });

  it('are not begun when they were cancelled, and stop when they are', async () => {
    let steps = 0;
    const { db, who, start, run, state } = await setUp(async ({ report, finish }) => {
      for (; steps < 100; steps++) {
        if (steps === 3) await cancelTask(db, who, id);
        await report('Step', steps, 100);
        await new Promise((resolve) => setTimeout(resolve, 60));
      }
      await finish({ made: 'too late' });
    });
    const never = await start();
    await cancelTask(db, who, never);
    await run(never);
    expect(steps).toBe(0);
    const id = await start();
    await run(id);
    expect(steps).toBeLessThan(20);
    expect(await state(id)).toMatchObject({ state: 'cancelled', result: null });
  });

  it('change files and end together, or not at all', async () => {
    const change = async (context: TaskContext<never>) => {
      const files = new ProjectFileSet(context.db, context.project, context.user);
      const [old] = await files.list();
      const plan = {
        summary: 'Wrote a.txt',
        changes: [write('a.txt', old!.sha256, Buffer.from('new'))],
        rewires: [],
        warnings: [],
      };
      await applyInTask(context, files, plan, {});
    };
    const content = async (db: Awaited<ReturnType<typeof setUp>>['db'], project: string) =>
      Buffer.from(await new ProjectFileSet(db, project).read('a.txt')).toString();

    const done = await setUp((context) => change(context as never));
    const id = await done.start();
    await done.run(id);
    expect(await done.state(id)).toMatchObject({ state: 'done', result: { summary: 'Wrote a.txt' } });
    expect(await content(done.db, done.who.project)).toBe('new');

    // Cancelled between the last report and the change: nothing is changed.
    const late = await setUp(async (context) => {
      await cancelTask(context.db, late.who, second);
      await change(context as never);
    });
    const second = await late.start();
    await late.run(second);
    expect(await late.state(second)).toMatchObject({ state: 'cancelled', result: null });
    expect(await content(late.db, late.who.project)).toBe('old');
    expect(await late.db('change_sets').where('project_id', late.who.project)).toHaveLength(1);
  });

  it('go after a day, with what was kept for them', async () => {
    const text = Buffer.from(crypto.randomUUID());
    const { db, start, run, state } = await setUp(async ({ finish }) => {
      const sha256 = await putBlob(db, text);
      await finish({ made: sha256 }, { blobs: [sha256, sha256] });
    });
    const old = await start();
    await run(old);
    const { made } = (await state(old))!.result!;
    await db('tasks')
      .where('id', old)
      .update({ time: db.raw("now() - interval '2 days'") });
    expect(await db('blobs').where('sha256', made)).toHaveLength(1);
    await start();
    expect(await state(old)).toBeUndefined();
    expect(await db('blobs').where('sha256', made)).toEqual([]);
  });
});
