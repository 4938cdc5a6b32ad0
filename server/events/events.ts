import type { Database } from '#server/db/connection';
import { onNotice, sendNotice } from '#server/db/notices';

/** What the pages of a project are told while it happens. */
export type ProjectEvent = { project: string } & (
  | { type: 'changed' }
  | { type: 'shape'; sha256: string; state: string; done: number; total: number }
);

const CHANNEL = 'stonetray';

/** Sends an event to every process; inside a transaction it goes out with the commit. */
export async function announce(db: Database, event: ProjectEvent): Promise<void> {
  await sendNotice(db, CHANNEL, JSON.stringify(event));
}

/** Calls back for each event of a project until the returned function is called. */
export async function listen(project: string, listener: (event: ProjectEvent) => void): Promise<() => void> {
  return onNotice(CHANNEL, (payload) => {
    const event = JSON.parse(payload || '{}') as ProjectEvent;
    if (event.project === project) listener(event);
  });
}
