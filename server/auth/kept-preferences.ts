import { z } from 'zod';
import type { Database } from '#server/db/connection';
import { DECIMAL_SIGNS, LENGTH_UNITS, MASS_UNITS, type Preferences, USUAL } from './preferences';
import { sessionHash, type User } from './sessions';

/** As a form sends them, and as they are kept. */
export const PREFERENCES = z.object({
  length: z.enum(LENGTH_UNITS).default(USUAL.length),
  mass: z.enum(MASS_UNITS).default(USUAL.mass),
  decimal: z.enum(DECIMAL_SIGNS).default(USUAL.decimal),
  /** A form has no other way than an empty text to say that none is chosen. */
  zone: z
    .string()
    .nullable()
    .default(null)
    .transform((name) => name || null)
    .refine((name) => name === null || isZone(name), 'There is no such time zone.'),
}) satisfies z.ZodType<Preferences, unknown>;

function isZone(name: string): boolean {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: name }) !== null;
  } catch {
    return false;
  }
}

/** How whoever asks reads numbers and times; as is usual for somebody who is not signed in. */
export async function preferencesOf(db: Database, request: Request): Promise<Preferences> {
  const hash = await sessionHash(request);
  if (hash === undefined) return USUAL;
  const row = await db('sessions')
    .join('users', 'users.id', 'sessions.user_id')
    .where('token_hash', hash)
    .first('users.preferences');
  // What another version has kept may be no choice of this one.
  return PREFERENCES.safeParse(row?.preferences ?? {}).data ?? USUAL;
}

export async function keepPreferences(db: Database, user: User, preferences: Preferences): Promise<void> {
  await db('users')
    .where('id', user.id)
    .update({ preferences: JSON.stringify(preferences) });
}
