import type { Knex } from 'knex';
import PgBoss from 'pg-boss';
import { database } from '#server/db/connection';
import { onNotice, sendNotice } from '#server/db/notices';
import { environment } from '#server/environment';

/** The kinds of background work. */
export interface Jobs {
  shape: { sha256: string; extension: string };
  /** Pictures of the root assemblies of a project. */
  portrait: { projectId: string };
  /** Something is to be changed. */
  change: { taskId: string };
  /** Something is to be planned or looked at. The task is the one that was asked for; made is the one whose turn it is. */
  plan: { taskId: string };
}

const QUEUES: readonly (PgBoss.Queue & { name: keyof Jobs })[] = [
  { name: 'shape', policy: 'short', retryLimit: 2, retryDelay: 2, expireInSeconds: 1800 },
  { name: 'portrait', policy: 'short', retryLimit: 1, expireInSeconds: 600 },
  { name: 'change', policy: 'standard', retryLimit: 1, expireInSeconds: 3600 },
  { name: 'plan', policy: 'standard', retryLimit: 1, expireInSeconds: 3600 },
];

/** Told with the name of a queue as soon as there is work in it. */
const CHANNEL = 'stonetray_work';

/**
 * Seconds between two looks for work that nobody told of: after a lost connection, or when its time has come to be tried again.
 * An idle worker asks no oftener than this for each that it does at a time.
 */
const POLL_SECONDS = 5;

/** Connections to the database that the queue of one process uses at most. */
export const CONNECTIONS = 3;

let shared: Promise<PgBoss> | undefined;

/** The queue, started once a process. A start that failed is tried again by whoever needs the queue next. */
function jobs(): Promise<PgBoss> {
  shared ??= start().catch((error) => {
    shared = undefined;
    throw error;
  });
  return shared;
}

async function start(): Promise<PgBoss> {
  const boss = new PgBoss({
    connectionString: environment().databaseUrl,
    application_name: 'stonetray',
    schedule: false,
    max: CONNECTIONS,
  });
  boss.on('error', (error) => console.error(`job queue: ${error.message}`));
  await boss.start();
  for (const queue of QUEUES) await boss.createQueue(queue.name, queue);
  return boss;
}

/** Has the queue write in a transaction of ours: the work is there when what it is about is, and not otherwise. */
function inTransaction(trx: Knex.Transaction): PgBoss.Db {
  return {
    async executeSql(text, values) {
      const connection = await trx.client.acquireConnection();
      return connection.query(text, values);
    },
  };
}

/**
 * Asks for work to be done. Work with the same key that still waits is not queued twice.
 * @param within a transaction that what is asked for belongs to
 */
export async function enqueue<Name extends keyof Jobs>(
  name: Name,
  data: Jobs[Name],
  key: string,
  { within }: { within?: Knex.Transaction } = {},
): Promise<void> {
  const boss = await jobs();
  await boss.send(name, data, {
    singletonKey: key,
    ...(within && { db: inTransaction(within) }),
  });
  await sendNotice(within ?? database(), CHANNEL, name);
}

/** So many jobs go in with one statement. */
const JOBS = 500;

/** Asks for much work of one kind at once, the highest priority first. Work with the same key that still waits is not queued twice. */
export async function enqueueAll<Name extends keyof Jobs>(
  name: Name,
  all: readonly { data: Jobs[Name]; key: string; priority: number }[],
  within?: Knex.Transaction,
): Promise<void> {
  if (all.length === 0) return;
  const boss = await jobs();
  for (let at = 0; at < all.length; at += JOBS)
    await boss.insert(
      all
        .slice(at, at + JOBS)
        .map(({ data, key, priority }) => ({ name, data, singletonKey: key, priority })),
      within ? { db: inTransaction(within) } : {},
    );
  await sendNotice(within ?? database(), CHANNEL, name);
}

/**
 * Does the work of one queue as it comes.
 * @param atOnce how many are done at a time; each asks for `batch` of them
 */
export async function work<Name extends keyof Jobs>(
  name: Name,
  { atOnce = 1, batch = 1 }: { atOnce?: number; batch?: number },
  handle: (data: Jobs[Name][]) => Promise<void>,
): Promise<void> {
  const boss = await jobs();
  const workers: string[] = [];
  for (let n = 0; n < atOnce; n++) {
    const id: string = await boss.work<Jobs[Name]>(
      name,
      { pollingIntervalSeconds: POLL_SECONDS, batchSize: batch },
      async (fetched) => {
        try {
          await handle(fetched.map(({ data }) => data));
        } finally {
          // There may be more of it: no pause before the next look.
          boss.notifyWorker(id);
        }
      },
    );
    workers.push(id);
  }
  const look = () => {
    for (const id of workers) boss.notifyWorker(id);
  };
  await onNotice(CHANNEL, (queue) => queue === name && look(), look);
}

export async function stopJobs(): Promise<void> {
  const boss = await shared;
  shared = undefined;
  await boss?.stop({ graceful: false });
}
