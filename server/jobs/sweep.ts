import { dropAbandoned } from '#server/db/arriving';
import type { Database } from '#server/db/connection';
import { enqueue } from './queue';
import { dropUnheard } from './run-task';
import { extensionOfContent, SHAPE_KEY } from './shapes';
import { queueTask, type TaskName } from './tasks';

/** Seconds without a sign of life after which a worker is taken for dead. */
const DEAD_SECONDS = 20;
/** Seconds after which work that waits is looked for in the queue. */
const WAITING_SECONDS = 30;
/** So often work is begun before it is given up. */
const MOST_ATTEMPTS = 3;

const GIVEN_UP = `What computes it ended ${MOST_ATTEMPTS} times while it did this. It may need more memory than there is: try it with less, or tell whoever runs Stone Tray.`;

/**
 * Finds work that nobody does: its worker died, or it never came into the queue. It is queued again, or given up with words after it was begun
 * several times. Any number of workers may do this at once.
 * @returns how much was queued again, and how much was given up
 */
export async function sweep(db: Database): Promise<{ again: number; givenUp: number }> {
  const isDead = (query: ReturnType<Database>) =>
    query.whereRaw(`coalesce(alive, '-infinity') < now() - make_interval(secs => ?)`, [DEAD_SECONDS]);
  let givenUp = 0;
  for (const [table, only] of [
    ['tasks', {}],
    ['shapes', SHAPE_KEY],
  ] as const) {
    const running = () => isDead(db(table).where({ ...only, state: 'running' }));
    givenUp += await running()
      .where('attempts', '>=', MOST_ATTEMPTS)
      .update({ state: 'failed', error: GIVEN_UP });
    await running().update({ state: 'waiting', alive: null });
  }
  await dropUnheard(db);
  const tasks: { id: string; kind: TaskName; attempts: number }[] = await waitingLong(db('tasks'))
    .whereRaw(TASK_NOT_QUEUED)
    .select('id', 'kind', 'attempts');
  for (const task of tasks) await queueTask(task, `${task.id} ${task.attempts}`);
  const shapes: { sha256: string; extension: string | null }[] = await waitingLong(
    db('shapes').where(SHAPE_KEY),
  )
    .whereRaw(NOT_QUEUED, ['shape', 'sha256', db.ref('shapes.sha256')])
    .select('sha256', extensionOfContent(db));
  for (const { sha256, extension } of shapes)
    if (extension !== null) await enqueue('shape', { sha256, extension }, sha256);
  await dropAbandoned(db);
  return { again: tasks.length + shapes.length, givenUp };
}

/** Rows that wait for a job longer than the queue takes, or once more. */
function waitingLong(rows: ReturnType<Database>): ReturnType<Database> {
  return rows
    .where('state', 'waiting')
    .where((query) =>
      query
        .where('attempts', '>', 0)
        .orWhereRaw('time < now() - make_interval(secs => ?)', [WAITING_SECONDS]),
    );
}

/** The same for tasks, whichever queue they are in. */
const TASK_NOT_QUEUED = `not exists (select 1 from pgboss.job where name in ('change', 'plan') and state in ('created', 'retry') and data ->> 'taskId' = tasks.id::text)`;

/** No job that waits, by a value of what it was asked with. */
const NOT_QUEUED = `not exists (select 1 from pgboss.job where name = ? and state in ('created', 'retry') and data ->> ? = ?)`;
