import type { Database } from '#server/db/connection';

/** When the newest version of each file of a project was made: ISO 8601, by path. */
export async function changeTimes(db: Database, projectId: string): Promise<Map<string, string>> {
  const rows: { path: string; time: Date }[] = await db('files')
    .where('project_id', projectId)
    .select('path', 'time');
  return new Map(rows.map(({ path, time }) => [path, time.toISOString()]));
}
