import { Client } from 'pg';
import { environment } from '#server/environment';
import type { Database } from './connection';

type Listener = (payload: string) => void;

const listeners = new Map<string, Set<Listener>>();
/** Milliseconds. */
const RECONNECT_PAUSE = 1000;

let connection: Promise<Client> | undefined;

/** Sends a notice to every process; inside a transaction it goes out with the commit. */
export async function sendNotice(db: Database, channel: string, payload: string): Promise<void> {
  await db.raw('select pg_notify(?, ?)', [channel, payload]);
}

/**
 * Calls back for each notice on a channel until the returned function is called. One connection serves a process; a lost one is
 * made again, and whoever listens looks up what may have been missed.
 * @param channel a plain word
 */
export async function onNotice(channel: string, listener: Listener): Promise<() => void> {
  connection ??= connect();
  const client = await connection;
  let all = listeners.get(channel);
  if (!all) {
    all = new Set();
    listeners.set(channel, all);
    await client.query(`listen ${client.escapeIdentifier(channel)}`);
  }
  all.add(listener);
  return () => all.delete(listener);
}

/** As long as somebody listens. */
function reconnect(): void {
  connection ??= connect().catch((error) => {
    connection = undefined;
    setTimeout(reconnect, RECONNECT_PAUSE).unref();
    throw error;
  });
  connection.catch(() => {});
}

async function connect(): Promise<Client> {
  const client = new Client({ connectionString: environment().databaseUrl });
  client.on('notification', ({ channel, payload }) => {
    for (const listener of listeners.get(channel) ?? []) listener(payload ?? '');
  });
  client.on('error', () => {
    connection = undefined;
    setTimeout(reconnect, RECONNECT_PAUSE).unref();
  });
  await client.connect();
  for (const channel of listeners.keys()) await client.query(`listen ${client.escapeIdentifier(channel)}`);
  return client;
}
