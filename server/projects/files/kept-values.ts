import type { Database } from '#server/db/connection';

/** What nobody has asked for in so long is let go. */
const KEPT_DAYS = 60;

/** Keeps a value that is too long for an address, such as a selection of hundreds of rows. The first one stays. */
export async function keepValue(db: Database, projectId: string, key: string, value: string): Promise<void> {
  await db('kept_values')
    .where('time', '<', db.raw(`now() - interval '${KEPT_DAYS} days'`))
    .delete();
  await db('kept_values')
    .insert({ project_id: projectId, key, value })
    .onConflict(['project_id', 'key'])
    .merge({ time: db.fn.now() });
}

/** What a key stands for; undefined when it is not kept, or not any more. */
export async function keptValue(db: Database, projectId: string, key: string): Promise<string | undefined> {
  const [row]: { value: string }[] = await db('kept_values')
    .where({ project_id: projectId, key })
    .update({ time: db.fn.now() })
    .returning('value');
  return row?.value;
}
