import { Client } from 'pg';
import { environment } from '#server/environment';
import type { Database } from './connection';

/** Whoever is told of notices on a channel. */
interface Listener {
  hear(payload: string): void;
  /** Notices may have been missed: whoever listens looks up where things stand. */
  catchUp(): void;
}

const listeners = new Map<string, Set<Listener>>();
/** Milliseconds before a lost connection is made again: longer each time, up to the most. */
const [FIRST_PAUSE, LONGEST_PAUSE] = [500, 30_000];

let connection: Promise<Client> | undefined;

/** Sends a notice to every process; inside a transaction it goes out with the commit. */
export async function sendNotice(db: Database, channel: string, payload: string): Promise<void> {
  await db.raw('select pg_notify(?, ?)', [channel, payload]);
}

/**
 * Calls back for each notice on a channel until the returned function is called. One connection serves a process; a lost one is
 * made again by itself, and then whoever listens is told to catch up.
 * @param channel a plain word
 */
export async function onNotice(
  channel: string,
  hear: Listener['hear'],
  catchUp: Listener['catchUp'] = () => {},
): Promise<() => void> {
  const listener = { hear, catchUp };
  const all = listeners.get(channel);
  if (all) all.add(listener);
  else {
    listeners.set(channel, new Set([listener]));
    // Whoever connects listens on all channels that there are by then.
    const client = await connected();
    await client?.query(`listen ${client.escapeIdentifier(channel)}`);
  }
  return () => listeners.get(channel)?.delete(listener);
}

/** The connection; undefined while the database cannot be reached, which is tried again by itself. */
async function connected(): Promise<Client | undefined> {
  connection ??= connect();
  return connection.catch(() => undefined);
}

function connect(pause = FIRST_PAUSE): Promise<Client> {
  const opening = open();
  connection = opening;
  let isLost = false;
  const again = () => {
    if (isLost || connection !== opening) return;
    isLost = true;
    connection = undefined;
    setTimeout(async () => {
      if (connection) return;
      const reopened = connect(Math.min(LONGEST_PAUSE, 2 * pause));
      if (await reopened.catch(() => undefined))
        for (const all of listeners.values()) for (const { catchUp } of all) catchUp();
    }, pause).unref();
  };
  opening.then((client) => {
    client.on('error', again);
    client.on('end', again);
  }, again);
  return opening;
}

async function open(): Promise<Client> {
  const client = new Client({ connectionString: environment().databaseUrl, keepAlive: true });
  // Said again by whoever waits for it to be open.
  client.on('error', () => {});
  client.on('notification', ({ channel, payload }) => {
    for (const { hear } of listeners.get(channel) ?? []) hear(payload ?? '');
  });
  await client.connect();
  for (const channel of listeners.keys()) await client.query(`listen ${client.escapeIdentifier(channel)}`);
  return client;
}
