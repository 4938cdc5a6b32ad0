import type { Knex } from 'knex';
import { Refusal } from '#core/refusal';
import type { Role } from '#server/auth/guard';
import type { User } from '#server/auth/sessions';
import { holdAs } from '#server/auth/standing';
import type { Database } from '#server/db/connection';
import { announcePerson } from '#server/events/events';
import { putMember, writeLog } from '#server/projects/projects';

/** Somebody who may join a project, by address: whether anybody has that address is not said. */
export interface Invitation {
  id: string;
  email: string;
  role: Role;
  /** ISO 8601. */
  time: string;
}

/** The same for whoever was invited. */
export interface InvitationToPerson {
  id: string;
  project: string;
  by: string;
  role: Role;
}

/** Days after which an invitation that nobody took lapses. */
export const INVITED_DAYS = 30;
/** So many may be open in a project. */
const MOST_OPEN = 200;

const isOpen = (query: Knex.QueryBuilder, db: Database): Knex.QueryBuilder =>
  query.where('invitations.time', '>', db.raw('now() - make_interval(days => ?)', [INVITED_DAYS]));

/**
 * Invites whoever has an address. The answer is the same whether anybody has it.
 * @throws Refusal when that is a member already, or too many invitations are open
 */
export async function invite(
  db: Database,
  projectId: string,
  by: string,
  email: string,
  role: Role,
): Promise<void> {
  await db.transaction(async (trx) => {
    await holdAs(trx, { project: projectId, user: by }, 'owner');
    const user = await whoHas(trx, email);
    if (user && (await trx('members').where({ project_id: projectId, user_id: user.id }).first('role')))
      throw new Refusal(`${email} is a member already. Change the role in the list.`);
    const open = await isOpen(trx('invitations').where('project_id', projectId), trx)
      .count('* as count')
      .first();
    if (Number(open!.count) >= MOST_OPEN)
      throw new Refusal(`${MOST_OPEN} invitations are open. Take some back first.`);
    await trx('invitations')
      .insert({ project_id: projectId, email, role, invited_by: by })
      .onConflict(trx.raw('(project_id, lower(email))'))
      .merge({ role, invited_by: by, time: trx.fn.now() });
    if (user) await announcePerson(trx, user.id);
    await writeLog(trx, projectId, by, 'people', `Invited ${email} as ${role}`);
  });
}

function whoHas(db: Database, email: string): Promise<{ id: string } | undefined> {
  return db('users').whereRaw('lower(email) = lower(?)', [email]).first('id');
}

/** The invitations of a project that are open, by address. */
export async function invitationsOf(db: Database, projectId: string): Promise<Invitation[]> {
  const rows: (Omit<Invitation, 'time'> & { time: Date })[] = await isOpen(
    db('invitations').where('project_id', projectId),
    db,
  )
    .orderByRaw('lower(email)')
    .select('id', 'email', 'role', 'time');
  return rows.map(({ time, ...row }) => ({ ...row, time: time.toISOString() }));
}

/** @throws Refusal when it is no longer open */
export async function takeBack(db: Database, projectId: string, by: string, id: string): Promise<void> {
  await db.transaction(async (trx) => {
    await holdAs(trx, { project: projectId, user: by }, 'owner');
    const [gone] = await trx('invitations').where({ id, project_id: projectId }).delete(['email']);
    if (!gone) throw new Refusal('This invitation is no longer open.');
    const user = await whoHas(trx, gone.email);
    if (user) await announcePerson(trx, user.id);
    await writeLog(trx, projectId, by, 'people', `Took the invitation of ${gone.email} back`);
  });
}

/** What somebody is invited to. */
export async function invitationsFor(db: Database, { email }: User): Promise<InvitationToPerson[]> {
  const rows: (Omit<InvitationToPerson, 'by'> & { by: string | null })[] = await isOpen(
    db('invitations').whereRaw('lower(invitations.email) = lower(?)', [email]),
    db,
  )
    .join('projects', 'projects.id', 'invitations.project_id')
    .leftJoin('users', 'users.id', 'invitations.invited_by')
    .where('projects.deleted', null)
    .orderBy('projects.name')
    .select('invitations.id', 'invitations.role', 'projects.name as project', 'users.name as by');
  return rows.map(({ by, ...row }) => ({ ...row, by: by ?? 'Somebody' }));
}

/**
 * Joins a project, or declines to.
 * @returns the project
 * @throws Refusal when the invitation is not one of this person, or no longer open
 */
export async function answerInvitation(
  db: Database,
  { id: userId, email }: User,
  id: string,
  joins: boolean,
): Promise<string> {
  return db.transaction(async (trx) => {
    const mine = trx('invitations').where('id', id).whereRaw('lower(email) = lower(?)', [email]);
    const [row] = await isOpen(mine, trx).delete(['project_id', 'role']);
    if (!row) throw new Refusal('This invitation is no longer open. Ask whoever sent it for another one.');
    const { project_id: projectId, role } = row;
    if (joins) await putMember(trx, projectId, userId, role);
    await announcePerson(trx, userId);
    await writeLog(trx, projectId, userId, 'people', joins ? `Joined as ${role}` : 'Declined to join');
    return projectId as string;
  });
}
