import type { Knex } from 'knex';
import { Refusal } from '#core/refusal';
import { archivedInWords, RANK, type Role } from './guard';

/** Who does something in a project. */
export interface Actor {
  project: string;
  user: string;
  /** What the session is stored under that it was asked for in; null for what nobody signs in for. */
  session?: string | null;
}

/**
 * In a transaction that changes a project: one at a time does.
 * @returns its name
 * @throws Refusal when it may not be changed any more
 */
export async function holdProject(
  trx: Knex.Transaction,
  project: string,
  { inArchive }: { inArchive: boolean },
): Promise<string> {
  const held = await trx('projects').where('id', project).forUpdate().first('name', 'archived', 'deleted');
  if (!held || held.deleted) throw refused('The project was deleted meanwhile.');
  if (held.archived && !inArchive) throw new Refusal(archivedInWords(held.name));
  return held.name;
}

/**
 * In the transaction of what somebody does: holds the project, and looks once more whether this person may do it. What was asked for may
 * have waited, and whoever asked may have been removed, or signed out by somebody who knows better, meanwhile.
 * @param inArchive whether it may also be done in an archived project
 * @returns the project's name
 * @throws Refusal in words for whoever asked; nothing was changed
 */
export async function holdAs(
  trx: Knex.Transaction,
  { project, user, session = null }: Actor,
  needs: Role,
  { inArchive = needs !== 'editor' }: { inArchive?: boolean } = {},
): Promise<string> {
  // Whoever changes members holds the project, too: nobody leaves between this look and the end.
  const name = await holdProject(trx, project, { inArchive });
  const person = await trx('users').where('id', user).forShare().first('disabled');
  if (!person || person.disabled) throw refused('Your account was closed meanwhile.');
  const member: { role: Role } | undefined = await trx('members')
    .where({ project_id: project, user_id: user })
    .first('role');
  if (!member) throw refused(`You are no longer a member of ${name}.`);
  if (RANK[member.role] < RANK[needs])
    throw refused(`This needs the role ${needs}; you are ${member.role} in ${name} by now.`);
  if (session === null) return name;
  const isOpen = await trx('sessions')
    .where({ token_hash: session, user_id: user })
    .where('expires_at', '>', trx.fn.now())
    .forShare()
    .first('user_id');
  if (!isOpen) throw refused('You were signed out meanwhile. Sign in and do it again.');
  return name;
}

const refused = (why: string) => new Refusal(`${why} Nothing was changed.`);
