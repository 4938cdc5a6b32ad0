import { Refusal } from '#core/refusal';
import { endSessions } from '#server/auth/sessions';
import type { Database } from '#server/db/connection';
import { announcePerson } from '#server/events/events';
import { putMember, writeLog } from '#server/projects/projects';

/** A person, as whoever runs the server reads it. */
export interface Person {
  name: string;
  email: string;
  projects: number;
  isDisabled: boolean;
}

export async function listPeople(db: Database): Promise<Person[]> {
  const rows = await db('users')
    .orderByRaw('lower(email)')
    .select('name', 'email', 'disabled')
    .select(db('members').count('*').whereRaw('members.user_id = users.id').as('projects'));
  return rows.map(({ projects, disabled, ...row }) => ({
    ...row,
    projects: Number(projects),
    isDisabled: disabled !== null,
  }));
}

/** Lets somebody in no more, or again; what they did and where they are members stays. @throws Refusal when nobody has the address */
export async function setDisabled(db: Database, email: string, isDisabled: boolean): Promise<void> {
  const { id } = await personOf(db, email);
  await db('users')
    .where('id', id)
    .update({ disabled: isDisabled ? db.fn.now() : null });
  if (isDisabled) await endSessions(db, id);
}

/**
 * Deletes somebody. What they did stays, without their name; what they sent and did not take in goes.
 * @throws Refusal when nobody has the address, or it is the only owner of a project: all such projects are named
 */
export async function deletePerson(db: Database, email: string): Promise<void> {
  await db.transaction(async (trx) => {
    const { id } = await personOf(trx, email);
    const alone = await onlyOwnedBy(trx, id);
    if (alone.length > 0)
      throw new Refusal(
        `${email} is the only owner of ${alone.map(({ name }) => name).join(', ')}. Hand over first: npm run user -- hand-over ${email} OTHER-MAIL`,
      );
    await trx('users').where('id', id).delete();
    await announcePerson(trx, id);
  });
}

/**
 * Makes somebody owner of every project of which another is the only owner.
 * @returns the names of the projects
 * @throws Refusal when nobody has one of the addresses
 */
export async function handOver(db: Database, from: string, to: string): Promise<string[]> {
  return db.transaction(async (trx) => {
    const [before, after] = [await personOf(trx, from), await personOf(trx, to)];
    const projects = await onlyOwnedBy(trx, before.id);
    for (const { id } of projects) {
      await putMember(trx, id, after.id, 'owner');
      await writeLog(trx, id, after.id, 'people', `Became owner in the place of ${before.name}`);
    }
    await announcePerson(trx, after.id);
    return projects.map(({ name }) => name);
  });
}

async function personOf(db: Database, email: string): Promise<{ id: string; name: string }> {
  const user = await db('users').whereRaw('lower(email) = lower(?)', [email]).first('id', 'name');
  if (!user)
    throw new Refusal(`Nobody here has the address ${email}. \`npm run user -- list\` shows everybody.`);
  return user;
}

/** Projects whose only owner somebody is, those that were deleted too; nobody else becomes or leaves owner meanwhile. */
async function onlyOwnedBy(db: Database, user: string): Promise<{ id: string; name: string }[]> {
  const owned = db('members').where({ user_id: user, role: 'owner' }).select('project_id');
  return db('projects')
    .whereIn('id', owned)
    .whereNotExists(
      db('members')
        .whereRaw('members.project_id = projects.id')
        .where('role', 'owner')
        .whereNot('user_id', user),
    )
    .orderBy('name')
    .forUpdate()
    .select('id', 'name');
}
