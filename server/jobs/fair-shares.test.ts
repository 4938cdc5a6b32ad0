import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Kernel } from '#core/geometry/shape/kernel';
import { putUser } from '#server/auth/sessions';
import { closeDatabase, type Database } from '#server/db/connection';
import { sayAlive, sayGone, workersAlive } from '#server/db/workers';
import { testProject } from '#server/testing';
import { stopJobs } from './queue';
import { dropUnheard, runNextPlan, runTask } from './run-task';
import {
  cancelTask,
  type Owner,
  startLooking,
  startTask,
  type TaskContext,
  type TaskKind,
  type TaskName,
  taskKind,
  taskState,
} from './tasks';

let db: Database;
let one: Owner;
let other: Owner;
/** Plans that are being made, by their number; each ends when it is told to. */
const making = new Map<number, { context: TaskContext<object>; end: () => void }>();
const kind = taskKind({
  request: z.object({ n: z.int() }),
  async run(context, { n }) {
    await new Promise<void>((resolve) => {
      making.set(n, { context, end: resolve });
      context.signal.addEventListener('abort', () => resolve());
    });
    making.delete(n);
    await context.finish({ n });
  },
});
const kinds: { [name in TaskName]: TaskKind } = { plan: kind, apply: kind, look: kind };

beforeAll(async () => {
  const made = await testProject();
  db = made.db;
  one = { project: made.project, user: made.owner.id };
  const email = `other-${crypto.randomUUID()}@demo.invalid`;
  other = { ...one, user: (await putUser(db, { email, name: 'Other', password: 'test-password' })).id };
});
beforeEach(async () => {
  await db('tasks').delete();
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

const plan = (who: Owner, n: number, how: { isFresh?: boolean; revision?: number } = {}) =>
  startLooking(db, who, 'plan', { n }, { revision: 1, ...how });
const next = () => runNextPlan(db, {} as Kernel, kinds);
const begun = (...numbers: number[]) => expect.poll(() => [...making.keys()].sort()).toEqual(numbers);
const stateOf = async (who: Owner, id: string) => (await taskState(db, who, id))?.state;
const silent = (seconds: number) =>
  db('tasks').update({ heard: db.raw('now() - make_interval(secs => ?)', [seconds]) });

describe('plans', () => {
  it('are stopped where memory runs short, the youngest first, and the others go on', async () => {
    const [first, second] = [await plan(one, 1), await plan(other, 2)];
    let isShort = false;
    const nextWith = () => runNextPlan(db, {} as Kernel, kinds, () => isShort);
    const slots = [nextWith()];
    await begun(1);
    slots.push(nextWith());
    await begun(1, 2);
    isShort = true;
    await expect.poll(() => stateOf(other, second)).toBe('failed');
    isShort = false;
    await slots[1];
    expect((await taskState(db, other, second))!.error).toContain('more memory than there is');
    expect(await stateOf(one, first)).toBe('running');
    making.get(1)!.end();
    await slots[0];
    expect(await stateOf(one, first)).toBe('done');
  });

  it('of one person follow each other, whatever they ask for; those of others go between', async () => {
    for (const n of [1, 2, 3]) await plan(one, n);
    const theirs = await plan(other, 4);
    const slots = [next(), next()];
    await begun(1, 4);
    // A third place would stay free: nobody else waits.
    await next();
    expect([...making.keys()].sort()).toEqual([1, 4]);
    making.get(4)!.end();
    await slots[1];
    expect(await taskState(db, other, theirs)).toMatchObject({ state: 'done', result: { n: 4 } });
    making.get(1)!.end();
    await slots[0];
    // What waited for its turn is in the queue again.
    const { rows } = await db.raw(
      `select count(*)::int as count from pgboss.job where name = 'plan' and state = 'created' and singleton_key like '% after %'`,
    );
    expect(rows[0].count).toBeGreaterThan(0);
    const last = next();
    await begun(2);
    making.get(2)!.end();
    await last;
  });

  it('that are asked for again join the one that runs, or was made a moment ago, while the project is as it was', async () => {
    const first = await plan(one, 1);
    expect(await plan(one, 1)).toBe(first);
    expect(await plan(one, 2)).not.toBe(first);
    expect(await plan(other, 1)).not.toBe(first);
    expect(await plan(one, 1, { revision: 2 })).not.toBe(first);
    const running = next();
    await begun(1);
    expect(await plan(one, 1)).toBe(first);
    making.get(1)!.end();
    await running;
    expect(await plan(one, 1)).toBe(first);
    expect(await plan(one, 1, { isFresh: true })).not.toBe(first);
    // What was cancelled is made anew.
    const again = await plan(one, 7);
    await cancelTask(db, one, again);
    expect(await plan(one, 7)).not.toBe(again);
  });

  it('end within seconds when nobody asks about them any more', async () => {
    const left = await plan(one, 1);
    const running = next();
    await begun(1);
    await silent(20);
    await running;
    expect(making.size).toBe(0);
    const row = await db('tasks').where('id', left).first('state', 'error');
    expect(row).toEqual({ state: 'cancelled', error: 'Nobody waited for it any more.' });
    // Those that wait do not begin; a change is made to its end, whoever looks.
    const waiting = await plan(one, 2);
    const change = await startTask(db, one, 'apply', { n: 3 });
    await silent(20);
    await dropUnheard(db);
    expect(await db('tasks').where('id', waiting).first('state')).toEqual({ state: 'cancelled' });
    const changing = runTask(db, {} as Kernel, kinds, change);
    await begun(3);
    await new Promise((resolve) => setTimeout(resolve, 1200));
    making.get(3)!.end();
    await changing;
    expect(await stateOf(one, change)).toBe('done');
  });

  it('go on as long as somebody asks', async () => {
    const id = await plan(one, 1);
    const running = next();
    await begun(1);
    await silent(10);
    expect(await stateOf(one, id)).toBe('running');
    const [{ age }] = await db('tasks')
      .where('id', id)
      .select(db.raw('extract(epoch from now() - heard)::float as age'));
    expect(age).toBeLessThan(5);
    making.get(1)!.end();
    await running;
  });

  it('are few of each person: of more, the oldest are given up', async () => {
    const ids: string[] = [];
    for (let n = 0; n < 10; n++) ids.push(await plan(one, n));
    const states = await Promise.all(ids.map((id) => stateOf(one, id)));
    expect(states).toEqual([...Array(2).fill('cancelled'), ...Array(8).fill('waiting')]);
  });
});

describe('work that waits', () => {
  it('says how much of others comes first, and whether anybody is there to do it', async () => {
    const worker = crypto.randomUUID();
    await db('workers').delete();
    await plan(other, 1);
    await startTask(db, other, 'apply', { n: 2 });
    await plan(one, 3);
    const mine = await plan(one, 4);
    expect(await taskState(db, one, mine)).toMatchObject({ state: 'waiting', before: 1, isServed: false });
    await sayAlive(db, worker);
    const change = await startTask(db, one, 'apply', { n: 5 });
    expect(await taskState(db, one, change)).toMatchObject({ before: 1, isServed: true });
    await db('workers').update({ alive: db.raw(`now() - interval '16 seconds'`) });
    expect(await workersAlive(db)).toBe(0);
    await sayAlive(db, worker);
    await sayGone(db, worker);
    expect(await workersAlive(db)).toBe(0);
  });
});
