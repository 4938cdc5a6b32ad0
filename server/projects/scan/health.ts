import { type LinkState, type StateCounts, stateCounts } from '#core/files/links/resolve';
import type { Database } from '#server/db/connection';

/** How many links were in which state at a time. */
export interface Health {
  /** ISO 8601 */
  time: string;
  links: StateCounts;
}

/** More cannot be told apart on a small chart. */
const MOST_POINTS = 200;

/** Keeps how a project's links were at a revision; of one that is kept nothing changes. */
export async function rememberHealth(
  db: Database,
  projectId: string,
  revision: number,
  links: readonly { state: LinkState }[],
): Promise<void> {
  // Whoever asks may come later than the change.
  const last = await db('change_sets').where('project_id', projectId).max('time as time').first();
  await db('health')
    .insert({
      ...{ project_id: projectId, revision, links: JSON.stringify(stateCounts(links)) },
      time: last?.time ?? db.fn.now(),
    })
    .onConflict()
    .ignore();
}

/** How the links of some projects were over time, the oldest first; by project. */
export async function healthOf(db: Database, projectIds: readonly string[]): Promise<Map<string, Health[]>> {
  const rows: { project_id: string; time: Date; links: Health['links'] }[] = await db
    .with(
      'numbered',
      db('health')
        .whereIn('project_id', projectIds)
        .select('project_id', 'revision', 'time', 'links')
        .rowNumber('n', (over) => over.partitionBy('project_id').orderBy('revision', 'desc')),
    )
    .from('numbered')
    .where('n', '<=', MOST_POINTS)
    .orderBy('revision')
    .select('project_id', 'time', 'links');
  const health = new Map<string, Health[]>();
  for (const { project_id, time, links } of rows)
    health.set(project_id, [...(health.get(project_id) ?? []), { time: time.toISOString(), links }]);
  return health;
}
