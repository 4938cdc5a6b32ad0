import PgBoss from 'pg-boss';
import { environment } from '#server/environment';

/** Work that a person waits for; each kind has a queue of its own, so that none waits behind another. */
export const TASK_NAMES = [
  'package',
  'cut',
  'keep-pieces',
  'split',
  'comparison',
  'follow',
  'cut-tie',
  'renew',
] as const;
export type TaskName = (typeof TASK_NAMES)[number];

/** The kinds of background work. */
export type Jobs = {
  import: { importId: string };
  shape: { sha256: string; extension: string };
} & { [name in TaskName]: { taskId: string } };

const QUEUES: readonly PgBoss.Queue[] = [
  { name: 'import', policy: 'standard', retryLimit: 1, expireInSeconds: 3600 },
  { name: 'shape', policy: 'short', retryLimit: 2, retryDelay: 2, expireInSeconds: 1800 },
  ...TASK_NAMES.map(
    (name): PgBoss.Queue => ({ name, policy: 'standard', retryLimit: 1, expireInSeconds: 3600 }),
  ),
];

let shared: Promise<PgBoss> | undefined;

/** The queue, started once a process. */
export function jobs(): Promise<PgBoss> {
  shared ??= start();
  return shared;
}

async function start(): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: environment().databaseUrl, application_name: 'stonetray' });
  boss.on('error', (error) => console.error(`job queue: ${error.message}`));
  await boss.start();
  for (const queue of QUEUES) await boss.createQueue(queue.name, queue);
  return boss;
}

/** Asks for work to be done. Work with the same key that still waits is not queued twice. */
export async function enqueue<Name extends keyof Jobs>(
  name: Name,
  data: Jobs[Name],
  key: string,
): Promise<void> {
  const boss = await jobs();
  await boss.send(name, data, { singletonKey: key });
}

export async function stopJobs(): Promise<void> {
  const boss = await shared;
  shared = undefined;
  await boss?.stop({ graceful: false });
}
