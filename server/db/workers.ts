import type { Database } from './connection';

/** Seconds without a sign of life after which a worker counts for nothing. */
const SILENT_SECONDS = 15;

/** A job worker says that it lives. Rows of those that died go with it. */
export async function sayAlive(db: Database, id: string): Promise<void> {
  await db('workers').insert({ id, alive: db.fn.now() }).onConflict('id').merge();
  await db('workers').whereRaw(`alive < now() - interval '1 hour'`).delete();
}

/** A job worker ends in order. */
export async function sayGone(db: Database, id: string): Promise<void> {
  await db('workers').where({ id }).delete();
}

/** How many job workers have answered lately. */
export async function workersAlive(db: Database): Promise<number> {
  const [row] = await db('workers')
    .whereRaw('alive > now() - make_interval(secs => ?)', [SILENT_SECONDS])
    .count('id as count');
  return Number(row?.count ?? 0);
}
