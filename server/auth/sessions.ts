import { createHash, randomBytes } from 'node:crypto';
import { createCookie } from 'react-router';
import { Refusal } from '#core/refusal';
import type { Database } from '#server/db/connection';
import { hashPassword, verifyPassword } from './passwords';

export interface User {
  id: string;
  email: string;
  name: string;
}

const DAYS = 14;
/** Wrong passwords for one address before it has to wait, and for how long. */
const FAILURES = { most: 8, minutes: 10 };

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
  const since = db.raw(`now() - interval '${FAILURES.minutes} minutes'`);
  const [{ count }] = (await db('sign_in_failures')
    .where('email', email.toLowerCase())
    .where('time', '>', since)
    .count()) as [{ count: string }];
  if (Number(count) >= FAILURES.most)
    throw new SignInError(`Too many wrong passwords. Try again in ${FAILURES.minutes} minutes.`);
  const user = await db('users').whereRaw('lower(email) = lower(?)', [email]).first();
  // An unknown address costs the same time as a wrong password.
  const fits = await verifyPassword(password, user?.password_hash ?? (await anyHash()));
  if (!user || !fits) {
    await db('sign_in_failures').insert({ email: email.toLowerCase() });
    throw new SignInError('This address and password do not go together.');
  }
  const token = randomBytes(32).toString('base64url');
  await db('sessions').where('expires_at', '<', db.fn.now()).delete();
  await db('sessions').insert({
    token_hash: hashOf(token),
    user_id: user.id,
    expires_at: db.raw(`now() + interval '${DAYS} days'`),
  });
  return cookie.serialize(token, { secure: isSecure(request) });
}

export async function signOut(db: Database, request: Request): Promise<string> {
  const token: unknown = await cookie.parse(request.headers.get('Cookie'));
  if (typeof token === 'string') await db('sessions').where('token_hash', hashOf(token)).delete();
  return cookie.serialize('', { maxAge: 0 });
}

export async function userOf(db: Database, request: Request): Promise<User | undefined> {
  const token: unknown = await cookie.parse(request.headers.get('Cookie'));
  if (typeof token !== 'string' || token === '') return undefined;
  return db('sessions')
    .join('users', 'users.id', 'sessions.user_id')
    .where('token_hash', hashOf(token))
    .where('expires_at', '>', db.fn.now())
    .first('users.id', 'users.email', 'users.name');
}

/** Makes a user, or gives an existing one a new password. */
export async function putUser(
  db: Database,
  user: { email: string; name: string; password: string },
): Promise<User> {
  const password_hash = await hashPassword(user.password);
  const existing = await db('users').whereRaw('lower(email) = lower(?)', [user.email]).first('id');
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
