import { Refusal } from '#core/refusal';
import type { Database } from '#server/db/connection';
import { announcePerson } from '#server/events/events';
import { hashPassword, verifyPassword } from './passwords';
import { endSessions, sessionHash, type User } from './sessions';

/** A session as its person reads it. */
export interface SessionOfPerson {
  id: string;
  opened: Date;
  seen: Date;
  browser: string;
  /** Whether it is the one that asks. */
  isThis: boolean;
}

/** The open sessions of whoever asks, the one that was used last first. */
export async function sessionsOf(db: Database, user: User, request: Request): Promise<SessionOfPerson[]> {
  const own = await sessionHash(request);
  const rows = await db('sessions')
    .where('user_id', user.id)
    .where('expires_at', '>', db.fn.now())
    .orderBy('seen', 'desc')
    .select('id', 'opened', 'seen', 'browser', 'token_hash');
  return rows.map(({ token_hash, ...row }) => ({ ...row, isThis: token_hash === own }));
}

/** Ends a session of a person; pages that are open with it hear nothing more. @throws Refusal when there is none */
export async function endSession(db: Database, user: User, id: string): Promise<void> {
  const ended = await db('sessions').where({ id, user_id: user.id }).delete();
  if (ended === 0) throw new Refusal('This session has ended already.');
  await announcePerson(db, user.id);
}

/** Ends all sessions of a person but the one that asks. */
export async function endOtherSessions(db: Database, user: User, request: Request): Promise<void> {
  await endSessions(db, user.id, await sessionHash(request));
}

/**
 * Gives somebody another password, and ends all other sessions.
 * @throws Refusal when the old one is not the right one
 */
export async function changePassword(
  db: Database,
  user: User,
  request: Request,
  { before, after }: { before: string; after: string },
): Promise<void> {
  const { password_hash } = await db('users').where('id', user.id).first('password_hash');
  if (!(await verifyPassword(before, password_hash)))
    throw new Refusal('The present password is another one. Nothing was changed.');
  await db('users')
    .where('id', user.id)
    .update({ password_hash: await hashPassword(after) });
  await endOtherSessions(db, user, request);
}
