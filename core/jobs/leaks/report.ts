import { z } from 'zod';
import { plural } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import type { Leak } from '#core/geometry/leaks/leaks';
import { Gap } from '#core/geometry/reduce/common-choices';
import { report } from '#core/report';
import { findLeaks } from './find-leaks';

export const LeaksChoices = z.object({
  file: z.string().min(1).max(4000).describe('the file that would be given out'),
  gap: Gap.describe('what a ball of this width comes to is outside, mm'),
});
export type LeaksChoices = z.infer<typeof LeaksChoices>;

interface Leaks {
  file: string;
  leaks: Leak[];
  /** Width of the ball that was rolled around it, mm; null where there is nothing to be rolled around. */
  gap: number | null;
  /** Why its faces were not looked at. */
  unseen: string | null;
}

/** What can be told from a file besides the outside of its bodies. */
export const LEAKS = report<LeaksChoices, Leaks>({
  name: 'leaks',
  title: 'What it gives away',
  purpose: 'Say what can be told from a file besides the outside of its bodies.',
  place: 'give',
  page: 'gives-away',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly', 'part'], isUnlisted: true },
  choices: LeaksChoices,
  cost: 'slow',
  argument: 'file',
  isOfOneFile: true,
  look: async (context, { file, gap }) => ({ file, ...(await findLeaks(context, file, gap)) }),
  words: ({ leaks, unseen }) => [
    ...(unseen === null ? [] : [`Its faces were not looked at. ${unseen}`]),
    ...leaks.flatMap(({ kind, count, examples, remedy }) => [
      `${kind.padEnd(16)}${plural(count, 'place')}: ${examples.map((text) => `“${text}”`).join(', ')}`,
      `${' '.repeat(16)}${remedy}`,
    ]),
    ...(leaks.length === 0 ? ['It tells nothing besides the outside of its bodies.'] : []),
  ],
  tables: ({ leaks }) => [
    {
      title: 'What can be told',
      columns: [
        { title: 'What', kind: 'short' },
        { title: 'Places', kind: 'number' },
        { title: 'Such as' },
        { title: 'What to do' },
      ],
      rows: leaks.map(({ kind, count, examples, remedy }) => [kind, count, examples.join(', '), remedy]),
    },
  ],
  summary: ({ file, leaks }) =>
    leaks.length === 0
      ? `${baseName(file)} tells nothing besides the outside of its bodies.`
      : `${baseName(file)} tells ${leaks.map(({ kind }) => kind).join(', ')}, besides the outside of its bodies.`,
  hasFindings: ({ leaks }) => leaks.length > 0,
});
