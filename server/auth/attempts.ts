import type { Database } from '#server/db/connection';

/** Set by the web process: the visitor's address on the network. */
export const ORIGIN_HEADER = 'x-stonetray-origin';

/** Minutes for which an attempt counts. */
const MINUTES = 10;
/** Attempts that cost no waiting: for one name, and from one place, where a whole office may sit. */
const FREE = { email: 5, origin: 30 };
/** Milliseconds: the first wait, twice as long each time, up to the longest. Nobody is ever locked out. */
const [FIRST_WAIT, LONGEST_WAIT] = [250, 8000];
/** So many may wait for one name, and in all: more are told to come back. */
const MOST_WAITING = { name: 10, all: 200 };

/** How long an attempt waits after so many others, milliseconds. */
export function waitAfter(attempts: number, free: number): number {
  return attempts < free ? 0 : Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** (attempts - free));
}

/** Attempts for a name wait for each other: many at once guess no faster than one after the other. */
const lines = new Map<string, { last: Promise<void>; waiting: number }>();
let waitingInAll = 0;

/**
 * Lets an attempt to sign in begin when its time has come. It counts before any password is looked at.
 * @param work looks at the password
 * @returns null when too many wait
 */
export async function admitAttempt<Made>(
  db: Database,
  email: string,
  origin: string,
  work: () => Promise<Made>,
): Promise<Made | null> {
  const name = email.toLowerCase();
  const line = lines.get(name) ?? { last: Promise.resolve(), waiting: 0 };
  if (line.waiting >= MOST_WAITING.name || waitingInAll >= MOST_WAITING.all) return null;
  lines.set(name, line);
  line.waiting++;
  waitingInAll++;
  const turn = line.last.then(async () => {
    const wait = await count(db, name, origin);
    if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
    return work();
  });
  line.last = turn.then(
    () => {},
    () => {},
  );
  try {
    return await turn;
  } finally {
    waitingInAll--;
    if (--line.waiting === 0) lines.delete(name);
  }
}

/** Counts an attempt. @returns how long it waits, milliseconds */
async function count(db: Database, name: string, origin: string): Promise<number> {
  const since = db.raw('now() - make_interval(mins => ?)', [MINUTES]);
  const of = async (where: { email: string } | { origin: string }) => {
    const [{ count: found }] = (await db('sign_in_attempts')
      .where(where)
      .where('time', '>', since)
      .count('* as count')) as [{ count: string }];
    return Number(found);
  };
  const [byName, byOrigin] = [await of({ email: name }), origin === '' ? 0 : await of({ origin })];
  await db('sign_in_attempts').insert({ email: name, origin });
  return Math.max(waitAfter(byName, FREE.email), waitAfter(byOrigin, FREE.origin));
}

/** Who had the right password begins anew. */
export async function forgetAttempts(db: Database, email: string): Promise<void> {
  await db('sign_in_attempts').where('email', email.toLowerCase()).delete();
}
