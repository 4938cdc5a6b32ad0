import { z } from 'zod';
import { columns } from '#core/command/words';
import { report } from '#core/report';

interface History {
  changes: { id: string; time: string; summary: string }[];
}

/** What was done, the latest last. */
export const HISTORY = report<object, History>({
  name: 'history',
  title: 'Activity',
  purpose: 'List what was done.',
  place: 'files',
  page: 'activity',
  accepts: { what: 'change' },
  choices: z.object({}),
  cost: 'quick',
  look: async ({ history }) => ({ changes: await history() }),
  words: ({ changes }) =>
    changes.length === 0
      ? ['Nothing has been changed in this folder.']
      : columns(changes.map(({ id, time, summary }) => [id, shortTime(time), summary])),
  tables: ({ changes }) => [
    {
      title: 'Changes',
      columns: [{ title: 'Change' }, { title: 'Time (UTC)' }, { title: 'What was done' }],
      rows: changes.map(({ id, time, summary }) => [id, time, summary]),
    },
  ],
});

function shortTime(time: string): string {
  return time.slice(0, 16).replace('T', ' ');
}
