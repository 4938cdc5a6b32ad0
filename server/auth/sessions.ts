import { createHash, randomBytes } from 'node:crypto';
import { createCookie } from 'react-router';
import { Refusal } from '#core/refusal';
import type { Database } from '#server/db/connection';
import { announcePerson } from '#server/events/events';
import { admitAttempt, forgetAttempts, ORIGIN_HEADER } from './attempts';
import { hashPassword, isOutdated, verifyPassword } from './passwords';

export interface User {
  id: string;
  email: string;
  name: string;
}

const DAYS = 14;
const cookie = createCookie('stonetray_session', {
  httpOnly: true,
  sameSite: 'lax',
  path: '/',
  maxAge: DAYS * 86_400,
});

/** Only a hash of the token is stored: the table alone opens no session. */
const hashOf = (token: string) => createHash('sha256').update(token).digest('hex');

export class SignInError extends Refusal {}

/**
 * Checks name and password and opens a session.
 * @returns the Set-Cookie header
 * @throws SignInError in words for the person; the same words whether the address or the password is wrong
 */
export async function signIn(
  db: Database,
  request: Request,
  email: string,
  password: string,
): Promise<string> {
  const origin = request.headers.get(ORIGIN_HEADER) ?? '';
  const user = await admitAttempt(db, email, origin, async () => {
    const found = await db('users').whereRaw('lower(email) = lower(?)', [email]).first();
    // An unknown address costs the same time as a wrong password.
    const fits = await verifyPassword(password, found?.password_hash ?? (await anyHash()));
    return found && fits && found.disabled === null ? found : undefined;
  });
  if (user === null) throw new SignInError('Too many people are signing in just now. Try again in a moment.');
  if (!user) throw new SignInError('This address and password do not go together.');
  await forgetAttempts(db, email);
  if (isOutdated(user.password_hash))
    await db('users')
      .where('id', user.id)
      .update({ password_hash: await hashPassword(password) });
  const token = randomBytes(32).toString('base64url');
  await db('sessions').insert({
    token_hash: hashOf(token),
    user_id: user.id,
    expires_at: db.raw(`now() + interval '${DAYS} days'`),
    browser: (request.headers.get('User-Agent') ?? '').slice(0, 300),
  });
  return cookie.serialize(token, { secure: isSecure(request) });
}

export async function signOut(db: Database, request: Request): Promise<string> {
  const hash = await sessionHash(request);
  if (hash !== undefined) {
    const [ended] = await db('sessions').where('token_hash', hash).delete('user_id');
    if (ended) await announcePerson(db, ended.user_id);
  }
  return cookie.serialize('', { maxAge: 0 });
}

/** What a request's session is stored under; undefined without one. */
export async function sessionHash(request: Request): Promise<string | undefined> {
  const token: unknown = await cookie.parse(request.headers.get('Cookie'));
  return typeof token === 'string' && token !== '' ? hashOf(token) : undefined;
}

export async function userOf(db: Database, request: Request): Promise<User | undefined> {
  const hash = await sessionHash(request);
  if (hash === undefined) return undefined;
  const row = await db('sessions')
    .join('users', 'users.id', 'sessions.user_id')
    .where('token_hash', hash)
    .where('expires_at', '>', db.fn.now())
    .where('users.disabled', null)
    .first(
      'users.id',
      'users.email',
      'users.name',
      db.raw(`seen < now() - interval '5 minutes' as is_long_ago`),
    );
  if (!row) return undefined;
  const { is_long_ago, ...user } = row;
  if (is_long_ago) await db('sessions').where('token_hash', hash).update({ seen: db.fn.now() });
  return user;
}

/** Ends all sessions of somebody but one; pages that are open with them hear nothing more. */
export async function endSessions(db: Database, user: string, exceptHash = ''): Promise<void> {
  await db('sessions').where('user_id', user).whereNot('token_hash', exceptHash).delete();
  await announcePerson(db, user);
}

/** Makes a user, or gives an existing one a new password. */
export async function putUser(
  db: Database,
  user: { email: string; name: string; password: string },
): Promise<User> {
  const password_hash = await hashPassword(user.password);
  const existing = await db('users').whereRaw('lower(email) = lower(?)', [user.email]).first('id');
  // A new password ends all sessions that were opened with the old one.
  if (existing) await endSessions(db, existing.id);
  const [row] = existing
    ? await db('users')
        .where('id', existing.id)
        .update({ name: user.name, password_hash })
        .returning(['id', 'email', 'name'])
    : await db('users')
        .insert({ email: user.email, name: user.name, password_hash })
        .returning(['id', 'email', 'name']);
  return row as User;
}

let decoy: Promise<string> | undefined;
function anyHash(): Promise<string> {
  decoy ??= hashPassword(randomBytes(12).toString('hex'));
  return decoy;
}

function isSecure(request: Request): boolean {
  return new URL(request.url).protocol === 'https:' || request.headers.get('X-Forwarded-Proto') === 'https';
}
