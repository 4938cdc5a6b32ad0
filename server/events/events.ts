import { Client } from 'pg';
import type { Database } from '#server/db/connection';
import { environment } from '#server/environment';

/** What the pages of a project are told while it happens. */
export type ProjectEvent = { project: string } & (
  | { type: 'changed' }
  | { type: 'shape'; sha256: string; state: string; done: number; total: number }
  | { type: 'import'; import: string; state: string; doing: string; done: number; total: number }
);

const CHANNEL = 'stonetray';

/** Sends an event to every process; inside a transaction it goes out with the commit. */
export async function announce(db: Database, event: ProjectEvent): Promise<void> {
  await db.raw('select pg_notify(?, ?)', [CHANNEL, JSON.stringify(event)]);
}

type Listener = (event: ProjectEvent) => void;
const listeners = new Set<{ project: string; listener: Listener }>();
let listening: Promise<void> | undefined;

/** Calls back for each event of a project until the returned function is called. One connection serves them all. */
export async function listen(project: string, listener: Listener): Promise<() => void> {
  listening ??= connectListener();
  await listening;
  const entry = { project, listener };
  listeners.add(entry);
  return () => listeners.delete(entry);
}

async function connectListener(): Promise<void> {
  const client = new Client({ connectionString: environment().databaseUrl });
  client.on('notification', ({ payload }) => {
    const event = JSON.parse(payload ?? '{}') as ProjectEvent;
    for (const { project, listener } of listeners) if (project === event.project) listener(event);
  });
  // A lost connection is made again at the next page; pages reload what they missed when they reconnect.
  client.on('error', () => {
    listening = undefined;
  });
  await client.connect();
  await client.query(`listen ${CHANNEL}`);
}
