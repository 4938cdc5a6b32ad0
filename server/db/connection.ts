import knex, { type Knex } from 'knex';
import { environment } from '#server/environment';

export type Database = Knex;

let shared: Database | undefined;

/** The process's connection pool. */
export function database(): Database {
  shared ??= connect(environment().databaseUrl);
  return shared;
}

export function connect(url: string): Database {
  return knex({ client: 'pg', connection: url, pool: { min: 0, max: 8 } });
}

export async function closeDatabase(): Promise<void> {
  await shared?.destroy();
  shared = undefined;
}
