import type { Database } from '#server/db/connection';
import { onNotice, sendNotice } from '#server/db/notices';

/** What the pages of a project are told while it happens. */
export type ProjectEvent = { project: string } & (
  | { type: 'changed' }
  /** Something was asked for that takes a while. */
  | { type: 'work' }
  | { type: 'shape'; sha256: string; state: string; done: number; total: number }
);

/** Of what somebody may do, or is invited to, something is another now. */
export type PersonEvent = { type: 'person' };

const CHANNEL = 'stonetray';
const PEOPLE = 'stonetray_people';

/** Milliseconds after which it is looked up again of which projects somebody is a member. */
const MEMBERSHIP_HOLDS = 10_000;

/** Sends an event to every process; inside a transaction it goes out with the commit. */
export async function announce(db: Database, event: ProjectEvent): Promise<void> {
  await sendNotice(db, CHANNEL, JSON.stringify(event));
}

/** Says that somebody's rights may be others now: a session has ended, a role was given or taken, or there is an invitation. Inside a transaction it goes out with the commit. */
export async function announcePerson(db: Database, user: string): Promise<void> {
  await sendNotice(db, PEOPLE, user);
}

/**
 * Calls back for each event of the projects that somebody is a member of, until the returned function is called.
 * @param onRights told when the person's rights may be others: from then on memberships are looked up anew
 */
export async function listenAsMember(
  db: Database,
  user: string,
  listener: (event: ProjectEvent) => void,
  onRights: () => void = () => {},
): Promise<() => void> {
  let membership: Promise<Set<string>> | undefined;
  let looked = 0;
  const projects = () => {
    if (!membership || performance.now() - looked > MEMBERSHIP_HOLDS) {
      looked = performance.now();
      membership = db('members')
        .where('user_id', user)
        .pluck('project_id')
        .then((ids: string[]) => new Set(ids));
    }
    return membership;
  };
  const mine = () => projects().catch(() => new Set<string>());
  const stopPeople = await onNotice(PEOPLE, (who) => {
    if (who !== user) return;
    membership = undefined;
    onRights();
  });
  const stopEvents = await onNotice(
    CHANNEL,
    async (payload) => {
      const event = JSON.parse(payload || '{}') as ProjectEvent;
      if ((await mine()).has(event.project)) listener(event);
    },
    async () => {
      for (const project of await mine()) listener({ project, type: 'changed' });
    },
  );
  return () => {
    stopPeople();
    stopEvents();
  };
}
