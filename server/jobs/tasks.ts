import { createHash, randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { type ZodType, z } from 'zod';
import type { Kernel } from '#core/geometry/shape/kernel';
import type { ProjectAccess } from '#server/auth/guard';
import type { Actor } from '#server/auth/standing';
import { dropUnused } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { storedJson } from '#server/db/stored-text';
import { workersAlive } from '#server/db/workers';
import { announce } from '#server/events/events';
import { enqueue } from './queue';

/** The kinds of tasks: an operation is planned, or applied; a report is looked at. */
export const TASK_NAMES = ['plan', 'apply', 'look'] as const;
export type TaskName = (typeof TASK_NAMES)[number];

/** Whose work it is. */
export type Owner = Actor;

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
  /** Why it failed, in words for the person who waits; of cancelled work, that nobody waited for it any more. */
  error: string | null;
  /** While it waits: how much work of others comes first. */
  before?: number;
  /** While it waits: whether any job worker has answered lately. */
  isServed?: boolean;
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
/** A person has at most so many plans open in a project: of more, the oldest are given up. */
const MOST_PLANS = 8;
/** Seconds for which a plan that is made is given again, while the project stays as it is. */
const FRESH_SECONDS = 600;
export const OPEN = ['waiting', 'running'];
/** Kinds that change nothing: somebody waits for what they find, or nobody needs it. */
export const LOOKING: readonly TaskName[] = ['plan', 'look'];

/**
 * Asks for work to be done.
 * @param id what it shall be known by: asked for again, because an answer was lost, it is done once
 * @returns its id
 */
export async function startTask(
  db: Database,
  owner: Owner,
  kind: TaskName,
  request: object,
  id: string = randomUUID(),
): Promise<string> {
  await discardOld(db);
  // The row and its place in the queue are there together, or not at all; asked for again, it is queued once.
  await db.transaction((trx) => addTask(trx, owner, { id, kind, request }));
  return id;
}

/**
 * Asks for something to be looked at or planned, which changes nothing. The same asked for again by the same person, while the project is
 * as it was, joins what is being made or was made a moment ago.
 * @param revision of the project
 * @param isFresh it is made anew whatever there is
 * @returns the id of the task that makes it
 */
export async function startLooking(
  db: Database,
  owner: Owner,
  kind: 'plan' | 'look',
  request: object,
  { id = randomUUID(), revision, isFresh = false }: { id?: string; revision: number; isFresh?: boolean },
): Promise<string> {
  await discardOld(db);
  const { project, user } = owner;
  const digest = createHash('sha256')
    .update(JSON.stringify([kind, request]))
    .digest('hex');
  return db.transaction(async (trx) => {
    // Two pages that ask for the same at once ask one after the other.
    await trx.raw('select pg_advisory_xact_lock(hashtext(?))', [`${project} ${user} plans`]);
    const own = () => trx('tasks').where({ project_id: project, user_id: user }).whereIn('kind', LOOKING);
    const known = isFresh
      ? undefined
      : await own()
          .where({ digest, revision })
          .where((query) =>
            query
              .whereIn('state', OPEN)
              .orWhere((done) =>
                done
                  .where('state', 'done')
                  .whereRaw('time > now() - make_interval(secs => ?)', [FRESH_SECONDS]),
              ),
          )
          .orderBy('time', 'desc')
          .first('id');
    if (known) {
      await trx('tasks').where('id', known.id).update({ heard: trx.fn.now() });
      return known.id;
    }
    const open = own()
      .whereIn('state', OPEN)
      .orderBy('time', 'desc')
      .offset(MOST_PLANS - 1)
      .select('id');
    await trx('tasks').whereIn('id', open).update({ state: 'cancelled' });
    await addTask(trx, owner, { id, kind, request, digest, revision });
    return id;
  });
}

/** The row of a task and its job; of one that is there, neither. */
async function addTask(
  trx: Knex.Transaction,
  { project, user, session }: Owner,
  task: { id: string; kind: TaskName; request: object; digest?: string; revision?: number },
): Promise<void> {
  const row = { ...task, project_id: project, user_id: user, session, request: storedJson(task.request) };
  const added = await trx('tasks').insert(row).onConflict('id').ignore().returning('id');
  if (added.length === 0) return;
  await queueTask(task, task.id, trx);
  await announce(trx, { project, type: 'work' });
}

/** Puts a task into the queue of its kind. @param key of the job: with the same, it is queued once */
export async function queueTask(
  { id, kind }: { id: string; kind: TaskName },
  key: string,
  within?: Knex.Transaction,
): Promise<void> {
  await enqueue(LOOKING.includes(kind) ? 'plan' : 'change', { taskId: id }, key, { within });
}

/** Cancels work that is not done yet. @param whose a person's own only, or anybody's in the project */
export async function cancelTask(
  db: Database,
  { project, user }: Owner,
  id: string,
  whose: 'own' | 'any' = 'own',
): Promise<void> {
  await db('tasks')
    .where({ id, project_id: project, ...(whose === 'own' && { user_id: user }) })
    .whereIn('state', OPEN)
    .update({ state: 'cancelled' });
}

const SHOWN = ['id', 'kind', 'state', 'doing', 'done', 'total', 'result', 'error'];

/** Seconds after which it is noted again that somebody asks how far a task is. */
const HEARD_SECONDS = 2;

/**
 * State of one task, if there is one of that id; a person sees their own only. Whoever asks is heard: a plan that nobody asks about is not
 * made to its end.
 */
export async function taskState<Result>(
  db: Database,
  { project, user }: Owner,
  id: string | null,
): Promise<TaskState<Result> | undefined> {
  if (!z.uuid().safeParse(id).success) return undefined;
  const own = () => db('tasks').where({ id, project_id: project, user_id: user });
  const row = await own().first([
    ...SHOWN,
    'time',
    db.raw('heard < now() - make_interval(secs => ?) as was_silent', [HEARD_SECONDS]),
  ]);
  if (!row) return undefined;
  const { time, was_silent: wasSilent, ...state } = row;
  if (!OPEN.includes(state.state)) return state;
  if (wasSilent) await own().update({ heard: db.fn.now() });
  if (state.state === 'running') return state;
  return { ...state, ...(await waitsFor(db, state.kind, user, time)) };
}

/** Whose work comes first, and whether there is anybody to do it. */
async function waitsFor(
  db: Database,
  kind: TaskName,
  user: string,
  since: Date,
): Promise<Pick<TaskState, 'before' | 'isServed'>> {
  const isLooking = LOOKING.includes(kind);
  const [row] = await db('tasks')
    .whereIn('state', OPEN)
    .whereNot('user_id', user)
    .where((query) => (isLooking ? query.whereIn('kind', LOOKING) : query.whereNotIn('kind', LOOKING)))
    .where((query) => query.where('state', 'running').orWhere('time', '<', since))
    .count('id as count');
  return { before: Number(row?.count ?? 0), isServed: (await workersAlive(db)) > 0 };
}

/** Whoever came through the guard. */
export function ownerOf({ project, user, session }: ProjectAccess): Owner {
  return { project: project.id, user: user.id, session };
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
