import { Refusal } from '#core/refusal';
import { holdAs } from '#server/auth/standing';
import type { Database } from '#server/db/connection';
import { announce, announcePerson } from '#server/events/events';
import { writeLog } from '#server/projects/projects';

/** Days that a deleted project can be brought back; then it is gone, with its history. */
export const KEPT_DAYS = 30;

/** A project that its owner has deleted and can bring back. */
export interface DeletedProject {
  id: string;
  name: string;
  /** When it goes for good; ISO 8601. */
  until: string;
}

/** What goes with a project. */
export interface ProjectSize {
  files: number;
  versions: number;
  /** Of all versions. */
  bytes: number;
  /** Files that are offered in the catalogue. */
  offered: number;
}

export async function sizeOfProject(db: Database, projectId: string): Promise<ProjectSize> {
  const [files, versions, offered] = await Promise.all([
    db('files').where('project_id', projectId).count('* as count').first(),
    db('versions').where('project_id', projectId).count('* as count').sum('bytes as sum').first(),
    db('publications').where({ project_id: projectId, withdrawn: null }).count('* as count').first(),
  ]);
  return {
    files: Number(files!.count),
    versions: Number(versions!.count),
    bytes: Number(versions!.sum ?? 0),
    offered: Number(offered!.count),
  };
}

/** Puts a project into the archive, where nothing in it changes, or takes it out. */
export async function setArchived(
  db: Database,
  projectId: string,
  by: string,
  isArchived: boolean,
): Promise<void> {
  await db.transaction(async (trx) => {
    await holdAs(trx, { project: projectId, user: by }, 'owner');
    await trx('projects')
      .where('id', projectId)
      .update({ archived: isArchived ? trx.fn.now() : null })
      .increment('revision', 1);
    await writeLog(
      trx,
      projectId,
      by,
      'project',
      isArchived ? 'Archived the project' : 'Took the project out of the archive',
    );
    await announce(trx, { project: projectId, type: 'changed' });
  });
}

/**
 * Deletes a project: nobody finds it any more, and what was offered from it is gone; for a time its owners can bring it back.
 * @param name as whoever deletes it has typed it
 * @throws Refusal when that is not its name
 */
export async function deleteProject(
  db: Database,
  projectId: string,
  by: string,
  name: string,
): Promise<void> {
  await db.transaction(async (trx) => {
    const called = await holdAs(trx, { project: projectId, user: by }, 'owner');
    if (name.trim() !== called)
      throw new Refusal(`Nothing was deleted: the project is called ${called}. Type that to delete it.`);
    await trx('projects').where('id', projectId).update({ deleted: trx.fn.now() }).increment('revision', 1);
    await writeLog(trx, projectId, by, 'project', 'Deleted the project');
    await announce(trx, { project: projectId, type: 'changed' });
    await tellMembers(trx, projectId);
  });
}

/** @throws Refusal when it is not there any more, or not this person's to bring back */
export async function bringBack(db: Database, projectId: string, by: string): Promise<void> {
  await db.transaction(async (trx) => {
    const back = await trx('projects')
      .where('id', projectId)
      .whereNotNull('deleted')
      .whereIn('id', ownedBy(trx, by))
      .update({ deleted: null })
      .increment('revision', 1);
    if (back === 0) throw new Refusal('This project is not there any more.');
    await writeLog(trx, projectId, by, 'project', 'Brought the project back');
    await tellMembers(trx, projectId);
  });
}

/** What somebody can bring back, by name. */
export async function deletedProjects(db: Database, userId: string): Promise<DeletedProject[]> {
  const rows = await db('projects')
    .whereNotNull('deleted')
    .whereIn('id', ownedBy(db, userId))
    .orderBy('name')
    .select('id', 'name', db.raw('deleted + make_interval(days => ?) as until', [KEPT_DAYS]));
  return rows.map(({ until, ...row }) => ({ ...row, until: until.toISOString() }));
}

function ownedBy(db: Database, user: string) {
  return db('members').where({ user_id: user, role: 'owner' }).select('project_id');
}

async function tellMembers(db: Database, projectId: string): Promise<void> {
  for (const user of await db('members').where('project_id', projectId).pluck('user_id'))
    await announcePerson(db, user);
}
