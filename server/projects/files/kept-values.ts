import { keyOfValue } from '#core/long-value';
import { Refusal } from '#core/refusal';
import type { Database } from '#server/db/connection';
import type { Owner } from '#server/jobs/tasks';

/** What nobody has asked for in so long is let go. */
const KEPT_DAYS = 60;
/** So many values, and characters in all, are kept of a person in a project; of more, those go that were asked for longest ago. */
const [MOST_VALUES, MOST_CHARACTERS] = [500, 16_000_000];

/**
 * Keeps a value that is too long for an address, such as a selection of hundreds of rows. The first one stays.
 * @throws Refusal for a key that is not the value's own
 */
export async function keepValue(
  db: Database,
  { project, user }: Owner,
  key: string,
  value: string,
): Promise<void> {
  if (key !== keyOfValue(value)) throw new Refusal('This key does not go with this value.');
  await db('kept_values')
    .where('time', '<', db.raw(`now() - interval '${KEPT_DAYS} days'`))
    .delete();
  await db('kept_values')
    .insert({ project_id: project, user_id: user, key, value })
    .onConflict(['project_id', 'key'])
    .merge({ time: db.fn.now() });
  await db.raw(
    `delete from kept_values where project_id = :project and user_id = :user and key in (
       select key from (
         select key, row_number() over newest as number, sum(length(value)) over newest as characters
         from kept_values where project_id = :project and user_id = :user
         window newest as (order by time desc, key)
       ) as own where number > :values or characters > :characters)`,
    { project, user, values: MOST_VALUES, characters: MOST_CHARACTERS },
  );
}

/** What a key stands for; undefined when it is not kept, or not any more. */
export async function keptValue(db: Database, projectId: string, key: string): Promise<string | undefined> {
  const [row]: { value: string }[] = await db('kept_values')
    .where({ project_id: projectId, key })
    .update({ time: db.fn.now() })
    .returning('value');
  return row?.value;
}
