import PgBoss from 'pg-boss';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { z } from 'zod';
import type { Kernel } from '#core/geometry/shape/kernel';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { closeDatabase, type Database } from '#server/db/connection';
import { loadProject } from '#server/projects/scan/project-scan';
import { testProject } from '#server/testing';
import { enqueue, stopJobs } from './queue';
import { runTask } from './run-task';
import { requestShapes, SHAPE_KEY } from './shapes';
import { sweep } from './sweep';
import { type Owner, startTask, type TaskKind, type TaskName, taskKind, taskState } from './tasks';

let db: Database;
let who: Owner;
let ran = 0;
const kind = taskKind({
  request: z.object({}),
  run: async ({ finish }) => {
    ran++;
    await finish({ made: ran });
  },
});
const kinds: { [name in TaskName]: TaskKind } = { plan: kind, apply: kind, look: kind };
const part = writeBoxPart({ id: crypto.randomUUID(), boxes: [{ name: 'box', size: [1, 2, 3] }] });

beforeAll(async () => {
  const made = await testProject(new MemoryFileSet([['box.stp', part]]));
  ({ db } = made);
  who = { project: made.project, user: made.owner.id };
});
afterEach(() => vi.restoreAllMocks());
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

const queued = async (name: string, key: string, value: string) =>
  (
    await db.raw(`select state from pgboss.job where name = ? and data ->> ? = ?`, [name, key, value])
  ).rows.map(({ state }: { state: string }) => state);
/** As if its worker had been killed a while ago: the queue believes that it is still at it. */
async function die(id: string, attempts: number): Promise<void> {
  await db('tasks')
    .where({ id })
    .update({ state: 'running', alive: db.raw(`now() - interval '1 minute'`), attempts });
  await db.raw(`update pgboss.job set state = 'active' where data ->> 'taskId' = ?`, [id]);
}

describe('work that nobody does', () => {
  it('is begun again when its worker died, and given up in words after several times', async () => {
    const id = await startTask(db, who, 'apply', {});
    await die(id, 1);
    expect((await sweep(db)).again).toBeGreaterThan(0);
    expect(await queued('change', 'taskId', id)).toContain('created');
    // A second look queues nothing twice.
    await sweep(db);
    expect(
      (await queued('change', 'taskId', id)).filter((state: string) => state === 'created'),
    ).toHaveLength(1);
    await runTask(db, {} as Kernel, kinds, id);
    expect(await taskState(db, who, id)).toMatchObject({ state: 'done' });

    const hopeless = await startTask(db, who, 'apply', {});
    await die(hopeless, 3);
    expect((await sweep(db)).givenUp).toBeGreaterThan(0);
    expect(await taskState(db, who, hopeless)).toMatchObject({
      state: 'failed',
      error: expect.stringContaining('What computes it ended 3 times'),
    });
  });

  it('is left to a worker that lives, and never done twice at once', async () => {
    const id = await startTask(db, who, 'apply', {});
    await db('tasks').where({ id }).update({ state: 'running', alive: db.fn.now(), attempts: 1 });
    await sweep(db);
    const before = ran;
    await runTask(db, {} as Kernel, kinds, id);
    expect([ran, (await taskState(db, who, id))!.state]).toEqual([before, 'running']);
  });

  it('is put into the queue when it never came there', async () => {
    const id = crypto.randomUUID();
    const row = { id, project_id: who.project, user_id: who.user, kind: 'apply', request: '{}' };
    await db('tasks').insert({ ...row, time: db.raw(`now() - interval '1 minute'`) });
    expect(await queued('change', 'taskId', id)).toEqual([]);
    await sweep(db);
    expect(await queued('change', 'taskId', id)).toEqual(['created']);
  });

  it('is in its table and in the queue together, or in neither', async () => {
    const id = crypto.randomUUID();
    await stopJobs();
    vi.spyOn(PgBoss.prototype, 'start').mockRejectedValueOnce(new Error('too many clients'));
    await expect(startTask(db, who, 'apply', {}, id)).rejects.toThrow('too many clients');
    expect(await taskState(db, who, id)).toBeUndefined();
    expect(await startTask(db, who, 'apply', {}, id)).toBe(id);
    expect(await queued('change', 'taskId', id)).toEqual(['created']);
  });

  it('is shapes, too', async () => {
    const scanned = await loadProject(db, who.project);
    const { sha256 } = scanned.files.get('box.stp')!;
    await requestShapes(db, scanned);
    const row = () => db('shapes').where({ ...SHAPE_KEY, sha256 });
    await row().update({ state: 'running', alive: db.raw(`now() - interval '1 minute'`), attempts: 1 });
    await db.raw(`update pgboss.job set state = 'active' where data ->> 'sha256' = ?`, [sha256]);
    await sweep(db);
    expect(await queued('shape', 'sha256', sha256)).toContain('created');
    expect(await row().first('state')).toEqual({ state: 'waiting' });
  });
});

it('a queue that could not be started is started by whoever needs it next', async () => {
  await stopJobs();
  vi.spyOn(PgBoss.prototype, 'start').mockRejectedValueOnce(new Error('too many clients'));
  await expect(enqueue('portrait', { projectId: who.project }, 'x')).rejects.toThrow('too many clients');
  await enqueue('portrait', { projectId: who.project }, 'x');
});
