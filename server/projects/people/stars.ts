import type { Database } from '#server/db/connection';
import type { Owner } from '#server/jobs/tasks';

/** Minutes: a project that is looked at again sooner is still the same visit. */
const VISIT = 5;

/** Paths of the files that a person has starred in a project, wherever they lie now. */
export async function starredFiles(db: Database, { user, project }: Owner): Promise<string[]> {
  const rows: { path: string }[] = await db('stars')
    .where({ 'stars.user_id': user, 'stars.project_id': project })
    .join('files', { 'files.project_id': 'stars.project_id', 'files.file_id': 'stars.file_id' })
    .orderBy('path')
    .select('files.path');
  return rows.map(({ path }) => path);
}

/**
 * Stars a file, or a project, for one person; or takes the star away.
 * @param path null for the project itself
 * @returns whether there is such a file
 */
export async function setStar(
  db: Database,
  { user, project }: Owner,
  path: string | null,
  isStarred: boolean,
): Promise<boolean> {
  const whose = { user_id: user, project_id: project };
  if (path === null) {
    await db('members').where(whose).update({ starred: isStarred });
    return true;
  }
  const file = await db('files').where({ project_id: project, path }).first('file_id');
  if (!file) return false;
  const star = { ...whose, file_id: file.file_id };
  if (isStarred) await db('stars').insert(star).onConflict(['user_id', 'project_id', 'file_id']).ignore();
  else await db('stars').where(star).delete();
  return true;
}

/** Remembers that a person has opened a project: the list of projects has those first that were opened last. */
export async function noteOpened(db: Database, { user, project }: Owner): Promise<void> {
  await db('members')
    .where({ user_id: user, project_id: project })
    .whereRaw(`coalesce(opened, '-infinity') < now() - make_interval(mins => ?)`, [VISIT])
    .update({ opened: db.fn.now() });
}
