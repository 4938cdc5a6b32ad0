import type { Database } from '#server/db/connection';
import { onNotice, sendNotice } from '#server/db/notices';

/** What the pages of a project are told while it happens. */
export type ProjectEvent = { project: string } & (
  | { type: 'changed' }
  | { type: 'shape'; sha256: string; state: string; done: number; total: number }
);

const CHANNEL = 'stonetray';

/** Milliseconds after which it is looked up again of which projects somebody is a member. */
const MEMBERSHIP_HOLDS = 10_000;

/** Sends an event to every process; inside a transaction it goes out with the commit. */
export async function announce(db: Database, event: ProjectEvent): Promise<void> {
  await sendNotice(db, CHANNEL, JSON.stringify(event));
}

/** Calls back for each event of the projects that somebody is a member of, until the returned function is called. */
export async function listenAsMember(
  db: Database,
  user: string,
  listener: (event: ProjectEvent) => void,
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
  return onNotice(CHANNEL, async (payload) => {
    const event = JSON.parse(payload || '{}') as ProjectEvent;
    const mine = await projects().catch(() => new Set<string>());
    if (mine.has(event.project)) listener(event);
  });
}
