import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { type ZodType, z } from 'zod';
import type { Kernel } from '#core/geometry/shape/kernel';
import { refusalOf } from '#core/refusal';
import type { ProjectAccess } from '#server/auth/guard';
import { dropUnused } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { storedJson } from '#server/db/stored-text';
import { defectInWords } from '#server/log';
import { enqueue } from './queue';

/** The kinds of tasks: an operation is planned, or applied; a report is looked at. */
export const TASK_NAMES = ['plan', 'apply', 'look'] as const;
export type TaskName = (typeof TASK_NAMES)[number];

/** Whose work it is. */
export interface Owner {
  project: string;
  user: string;
}

/** Work that a person waits for before a page: how far it is, and what came of it. */
export interface TaskState<Result = unknown> {
  id: string;
  kind: TaskName;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  /** What is being done, in words; '' before and after. */
  doing: string;
  done: number;
  total: number;
  result: Result | null;
  /** Why it failed, in words for the person who waits. */
  error: string | null;
}

/** What a task has to work with. */
export interface TaskContext<Result> extends Owner {
  db: Database;
  kernel: Kernel;
  /** Aborted when the person has cancelled. */
  signal: AbortSignal;
  /** Says how far it is; not more often than is worth it. @throws TaskCancelled */
  report(doing: string, done: number, total: number): Promise<void>;
  /**
   * Ends the task with its result. Said within the transaction of a change, the change and the end of the task happen
   * together or not at all: whoever cancels in time has cancelled the change.
   * @param blobs contents that are kept as long as the task is
   * @throws TaskCancelled
   */
  finish(result: Result, how?: { within?: Knex.Transaction; blobs?: readonly string[] }): Promise<void>;
}

/** One kind of task: how it is asked for, and how it is done. */
export interface TaskKind {
  request: ZodType<object>;
  run(context: TaskContext<object>, request: unknown): Promise<void>;
}

/**
 * Describes a kind of task.
 * @param run does it, in the job worker. An error's message is what the person reads. A task that was cut off is run again.
 */
export function taskKind<Request extends object, Result extends object>(kind: {
  request: ZodType<Request>;
  run: (context: TaskContext<Result>, request: Request) => Promise<void>;
}): TaskKind {
  const { request, run } = kind;
  return {
    request,
    run: (context, asked) => run(context as TaskContext<Result>, request.parse(asked)),
  };
}

/** The person has cancelled. */
export class TaskCancelled extends Error {}

/** Tasks and what came of them are kept this long. */
const KEPT_HOURS = 24;
/** Milliseconds between two reports, between two looks whether somebody has cancelled, and between two signs of life. */
const [REPORT_PAUSE, WATCH_PAUSE, LIFE_PAUSE] = [100, 500, 4000];
const OPEN = ['waiting', 'running'];

/**
 * Asks for work to be done.
 * @param id what it shall be known by: asked for again, because an answer was lost, it is done once
 * @returns its id
 */
export async function startTask(
  db: Database,
  { project, user }: Owner,
  kind: TaskName,
  request: object,
  id: string = randomUUID(),
): Promise<string> {
  await discardOld(db);
  // The row and its place in the queue are there together, or not at all; asked for again, it is queued once.
  await db.transaction(async (trx) => {
    const added = await trx('tasks')
      .insert({ id, project_id: project, user_id: user, kind, request: storedJson(request) })
      .onConflict('id')
      .ignore()
      .returning('id');
    if (added.length > 0)
      await enqueue('task', { taskId: id }, id, { urgent: kind !== 'apply', within: trx });
  });
  return id;
}

/** Cancels work that is not done yet; a person cancels their own only. */
export async function cancelTask(db: Database, { project, user }: Owner, id: string): Promise<void> {
  await db('tasks')
    .where({ id, project_id: project, user_id: user })
    .whereIn('state', OPEN)
    .update({ state: 'cancelled' });
}

const SHOWN = ['id', 'kind', 'state', 'doing', 'done', 'total', 'result', 'error'];

/** State of one task, if there is one of that id and kind; a person sees their own only. */
export async function taskState<Result>(
  db: Database,
  { project, user }: Owner,
  id: string | null,
  kind?: TaskName,
): Promise<TaskState<Result> | undefined> {
  if (!z.uuid().safeParse(id).success) return undefined;
  return db('tasks')
    .where({ id, project_id: project, user_id: user, ...(kind && { kind }) })
    .first(SHOWN);
}

/** Whoever came through the guard. */
export function ownerOf({ project, user }: ProjectAccess): Owner {
  return { project: project.id, user: user.id };
}

/** Waits for a task that may be quick, for so many milliseconds at most. @returns where it stands then */
export async function waitForTask<Result>(
  db: Database,
  owner: Owner,
  id: string,
  patience: number,
): Promise<TaskState<Result> | undefined> {
  const end = performance.now() + patience;
  for (;;) {
    const state = await taskState<Result>(db, owner, id);
    if (!state || !OPEN.includes(state.state) || performance.now() > end) return state;
    await new Promise((resolve) => setTimeout(resolve, 80));
  }
}

/** Does a task. Runs in the job worker. */
export async function runTask(
  db: Database,
  kernel: Kernel,
  kinds: { readonly [name in TaskName]: TaskKind },
  id: string,
): Promise<void> {
  // What another worker is at is left to it.
  const [row] = await db('tasks')
    .where({ id, state: 'waiting' })
    .update({ state: 'running', alive: db.fn.now(), attempts: db.raw('attempts + 1') }, [
      'project_id',
      'user_id',
      'kind',
      'request',
    ]);
  if (!row) return;
  const running = (within: Database | Knex.Transaction = db) =>
    within('tasks').where({ id, state: 'running' });
  const cancelled = new AbortController();
  // Whoever cancels writes it into the row; work that says nothing for long looks there now and then.
  let lived = performance.now();
  const watch = setInterval(async () => {
    const isTime = performance.now() - lived > LIFE_PAUSE;
    if (isTime) lived = performance.now();
    const still = await (isTime ? running().update({ alive: db.fn.now() }) : running().first('id')).catch(
      () => true,
    );
    if (!still) cancelled.abort();
  }, WATCH_PAUSE);
  let reported = 0;
  const context: TaskContext<object> = {
    db,
    kernel,
    project: row.project_id,
    user: row.user_id,
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
    await kinds[row.kind as TaskName].run(context, row.request);
  } catch (error) {
    if (cancelled.signal.aborted || error instanceof TaskCancelled) return;
    const words = refusalOf(error) ?? defectInWords(error, { task: id, kind: row.kind, ...context });
    await running().update({ state: 'failed', doing: '', error: words });
  } finally {
    clearInterval(watch);
  }
}

/** Old tasks go, and what was kept for them. */
async function discardOld(db: Database): Promise<void> {
  const old = () => db('tasks').where('time', '<', db.raw(`now() - make_interval(hours => ?)`, [KEPT_HOURS]));
  const kept: { sha256: string }[] = await db('task_blobs')
    .whereIn('task_id', old().select('id'))
    .distinct('sha256');
  await old().delete();
  await dropUnused(
    db,
    kept.map(({ sha256 }) => sha256),
  );
}
