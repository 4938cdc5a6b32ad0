import { pathProblem } from '#core/files/links/paths';
import { Refusal } from '#core/refusal';
import type { Role } from '#server/auth/guard';
import { holdAs } from '#server/auth/standing';
import type { Database } from '#server/db/connection';
import { announce, announcePerson } from '#server/events/events';
import { writeLog } from '#server/projects/projects';

export interface Member {
  id: string;
  name: string;
  email: string;
  role: Role;
}

export async function listMembers(db: Database, projectId: string): Promise<Member[]> {
  return db('members')
    .join('users', 'users.id', 'members.user_id')
    .where('project_id', projectId)
    .orderBy('users.name')
    .select('users.id', 'users.name', 'users.email', 'members.role');
}

/** Gives a member another role. @throws Refusal when this is no member, or no owner would be left */
export async function setRole(
  db: Database,
  projectId: string,
  by: string,
  userId: string,
  role: Role,
): Promise<void> {
  await db.transaction(async (trx) => {
    await holdAs(trx, { project: projectId, user: by }, 'owner');
    const set = await trx('members').where({ project_id: projectId, user_id: userId }).update({ role });
    if (set === 0) throw new Refusal('This person is no member any more.');
    const user = await trx('users').where('id', userId).first('name');
    await keepAnOwner(trx, projectId);
    await announcePerson(trx, userId);
    await writeLog(trx, projectId, by, 'people', `Made ${user.name} ${role}`);
  });
}

export async function removeMember(
  db: Database,
  projectId: string,
  by: string,
  userId: string,
): Promise<void> {
  await db.transaction(async (trx) => {
    // Anybody may leave.
    await holdAs(trx, { project: projectId, user: by }, by === userId ? 'viewer' : 'owner');
    const user = await trx('users').where('id', userId).first('name');
    const removed = await trx('members').where({ project_id: projectId, user_id: userId }).delete();
    if (removed === 0) throw new Refusal('This person is no member any more.');
    await keepAnOwner(trx, projectId);
    await announcePerson(trx, userId);
    const words = by === userId ? `${user.name} left the project` : `Removed ${user.name} from the project`;
    await writeLog(trx, projectId, by, 'people', words);
  });
}

/** Name, description, and the folders in which files are looked for when they are not where a link says. */
export async function updateProject(
  db: Database,
  projectId: string,
  by: string,
  { name, description, searchFolders }: { name: string; description: string; searchFolders: string[] },
): Promise<void> {
  const folders = searchFolders
    .map((folder) => folder.trim().replaceAll('\\', '/').replace(/\/+$/, ''))
    .filter((folder) => folder !== '');
  for (const folder of folders) {
    const problem = pathProblem(folder);
    if (problem) throw new Refusal(`${folder} cannot be a search folder: ${problem}.`);
  }
  await db.transaction(async (trx) => {
    await holdAs(trx, { project: projectId, user: by }, 'owner', { inArchive: false });
    await trx('projects')
      .where('id', projectId)
      .update({ name, description, search_folders: folders })
      .increment('revision', 1);
    await writeLog(trx, projectId, by, 'project', 'Changed the project’s settings');
    await announce(trx, { project: projectId, type: 'changed' });
  });
}

async function keepAnOwner(db: Database, projectId: string): Promise<void> {
  if (!(await db('members').where({ project_id: projectId, role: 'owner' }).first('user_id'))) {
    throw new Refusal('A project needs an owner. Make somebody else owner first.');
  }
}
