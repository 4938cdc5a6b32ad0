import type { Knex } from 'knex';
import type { Kernel } from '#core/geometry/shape/kernel';
import { refusalOf } from '#core/refusal';
import type { Database } from '#server/db/connection';
import { storedJson } from '#server/db/stored-text';
import { defectInWords } from '#server/log';
import { isShortOfMemory } from './memory';
import { LOOKING, queueTask, TaskCancelled, type TaskContext, type TaskKind, type TaskName } from './tasks';

/** Milliseconds between two reports, between two looks whether somebody has cancelled, and between two signs of life. */
const [REPORT_PAUSE, WATCH_PAUSE, LIFE_PAUSE] = [100, 500, 4000];
/** Seconds after which nobody listens any more: a page that waits asks every second. */
const UNHEARD_SECONDS = 15;
/** Minutes that a plan may take. */
const LOOKING_MINUTES = 20;

const LEFT = 'Nobody waited for it any more.';
const TOO_LONG = `This took longer than ${LOOKING_MINUTES} minutes and was stopped. Choose fewer files, or coarser choices.`;

const TOO_MUCH =
  'This needed more memory than there is and was stopped. Choose fewer files, or coarser choices; or tell whoever runs Stone Tray.';

/** Plans that this process makes, the youngest last: where memory runs short, that one is stopped. */
const looking: string[] = [];

/** Of tasks, those that nobody asks about. */
function unheard(tasks: Knex.QueryBuilder): Knex.QueryBuilder {
  return tasks.whereRaw('heard < now() - make_interval(secs => ?)', [UNHEARD_SECONDS]);
}

/** Plans that wait, and that nobody waits for, are not made. */
export async function dropUnheard(db: Database): Promise<void> {
  await unheard(db('tasks').where('state', 'waiting').whereIn('kind', LOOKING)).update({
    state: 'cancelled',
    error: LEFT,
  });
}

/** A task that this worker has begun. */
interface BegunTask {
  id: string;
  project_id: string;
  user_id: string;
  session: string | null;
  kind: TaskName;
  request: unknown;
}

/** Does a task, unless another worker is at it. */
export async function runTask(
  db: Database,
  kernel: Kernel,
  kinds: { readonly [name in TaskName]: TaskKind },
  id: string,
): Promise<void> {
  const task = await begin(db, db('tasks').where({ id, state: 'waiting' }).select('id'));
  if (task) await doTask(db, kernel, kinds, task);
}

/**
 * Makes the plan whose turn it is: the oldest of a person of whom none is being made. So one person's plans follow each other, and never
 * hold more than one place, however many they ask for.
 */
export async function runNextPlan(
  db: Database,
  kernel: Kernel,
  kinds: { readonly [name in TaskName]: TaskKind },
  isShort = isShortOfMemory,
): Promise<void> {
  const task = await db.transaction(async (trx) => {
    // Two that choose at once would choose two of one person.
    await trx.raw(`select pg_advisory_xact_lock(hashtext('stonetray plans'))`);
    const busy = trx('tasks').where('state', 'running').whereIn('kind', LOOKING).select('user_id');
    const next = trx('tasks')
      .where('state', 'waiting')
      .whereIn('kind', LOOKING)
      .whereNotIn('user_id', busy)
      .orderBy('time')
      .limit(1)
      .select('id');
    return begin(trx, next);
  });
  if (!task) return;
  looking.push(task.id);
  try {
    await doTask(db, kernel, kinds, task, isShort);
  } finally {
    looking.splice(looking.indexOf(task.id), 1);
    // One that had to wait for this person's turn has used up its job in the queue.
    const waiting = await db('tasks').where('state', 'waiting').whereIn('kind', LOOKING).first('id', 'kind');
    if (waiting) await queueTask(waiting, `${waiting.id} after ${task.id}`);
  }
}

async function begin(
  db: Database | Knex.Transaction,
  which: ReturnType<Database>,
): Promise<BegunTask | undefined> {
  const [task] = await db('tasks')
    .whereIn('id', which)
    .where('state', 'waiting')
    .update({ state: 'running', alive: db.fn.now(), attempts: db.raw('attempts + 1') }, [
      'id',
      'project_id',
      'user_id',
      'session',
      'kind',
      'request',
    ]);
  return task;
}

async function doTask(
  db: Database,
  kernel: Kernel,
  kinds: { readonly [name in TaskName]: TaskKind },
  row: BegunTask,
  isShort: () => boolean = () => false,
): Promise<void> {
  const { id } = row;
  const isLooking = LOOKING.includes(row.kind);
  const running = (within: Database | Knex.Transaction = db) =>
    within('tasks').where({ id, state: 'running' });
  const cancelled = new AbortController();
  // Whoever cancels writes it into the row; work that says nothing for long looks there now and then.
  const began = performance.now();
  let lived = began;
  let wasShort = false;
  const giveUp = async (): Promise<boolean> => {
    if (!isLooking) return false;
    if (performance.now() - began > LOOKING_MINUTES * 60_000)
      return (await running().update({ state: 'failed', doing: '', error: TOO_LONG })) > 0;
    // Twice in a row: what is about to be let go is no want.
    const isShortNow = looking.at(-1) === id && isShort();
    if (isShortNow && wasShort)
      return (await running().update({ state: 'failed', doing: '', error: TOO_MUCH })) > 0;
    wasShort = isShortNow;
    return (await unheard(running()).update({ state: 'cancelled', error: LEFT })) > 0;
  };
  const watch = setInterval(async () => {
    const isTime = performance.now() - lived > LIFE_PAUSE;
    if (isTime) lived = performance.now();
    const look = async () =>
      !(await giveUp()) &&
      (isTime ? await running().update({ alive: db.fn.now() }) : await running().first('id'));
    // While the database is away nothing is known, and the work goes on.
    if (!(await look().catch(() => true))) cancelled.abort();
  }, WATCH_PAUSE);
  let reported = 0;
  const context: TaskContext<object> = {
    db,
    kernel,
    project: row.project_id,
    user: row.user_id,
    session: row.session,
    signal: cancelled.signal,
    report: async (doing, done, total) => {
      if (cancelled.signal.aborted) throw new TaskCancelled();
      if (performance.now() - reported < REPORT_PAUSE) return;
      reported = performance.now();
      if ((await running().update({ doing, done, total })) > 0) return;
      cancelled.abort();
      throw new TaskCancelled();
    },
    finish: async (result, { within, blobs = [] } = {}) => {
      const end = async (trx: Knex.Transaction) => {
        const ended = await running(trx).update({
          state: 'done',
          doing: '',
          done: db.ref('total'),
          result: storedJson(result),
        });
        if (ended === 0) throw new TaskCancelled();
        if (blobs.length > 0)
          await trx('task_blobs').insert([...new Set(blobs)].map((sha256) => ({ task_id: id, sha256 })));
      };
      // The end and what is kept for it belong together.
      await (within ? end(within) : db.transaction(end));
    },
  };
  try {
    await kinds[row.kind].run(context, row.request);
  } catch (error) {
    if (cancelled.signal.aborted || error instanceof TaskCancelled) return;
    const words = refusalOf(error) ?? defectInWords(error, { task: id, kind: row.kind, ...context });
    await running().update({ state: 'failed', doing: '', error: words });
  } finally {
    clearInterval(watch);
  }
}
