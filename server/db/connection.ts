import knex, { type Knex } from 'knex';
import PostgresClient from 'knex/lib/dialects/postgres/index.js';
import { environment } from '#server/environment';
import { ofTheProcess } from '#server/of-the-process';
import { storedText } from './stored-text';

export type Database = Knex;

const pool = ofTheProcess<{ shared?: Database }>('database', () => ({}));

/** The process's connection pool. */
export function database(): Database {
  pool.shared ??= connect(environment().databaseUrl);
  return pool.shared;
}

/** Milliseconds that somebody waits for a connection. */
const PATIENCE = 20_000;

/** Connections to the database that one process uses at most, besides those of the queue and the one that listens. */
export const CONNECTIONS = 8;

/** PostgreSQL, given every text in a form that it takes: one odd name must not make a whole project fail. */
class StoringClient extends PostgresClient {
  override prepBindings(bindings?: readonly unknown[]): readonly unknown[] | undefined {
    return super.prepBindings(bindings)?.map(storable);
  }
}

function storable(value: unknown): unknown {
  if (typeof value === 'string') return storedText(value);
  return Array.isArray(value) ? value.map(storable) : value;
}

export function connect(url: string): Database {
  return knex({
    client: StoringClient,
    connection: url,
    pool: { min: 0, max: CONNECTIONS },
    acquireConnectionTimeout: PATIENCE,
    // Each attempt to connect would be a line; whoever waits for it is told at the end.
    log: { warn: () => {} },
  });
}

export async function closeDatabase(): Promise<void> {
  await pool.shared?.destroy();
  pool.shared = undefined;
}
