import { z } from 'zod';
import { columns, plural } from '#core/command/words';
import { isBroken } from '#core/files/links/resolve';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { type Project, rootsOf } from '#core/project/scan/project';
import { type Direction, linkGraphOf, rootsReached, type TracedFile, trace } from '#core/project/scan/trace';
import { Refusal } from '#core/refusal';
import { type Report, report } from '#core/report';

export const UsesChoices = z.object({
  files: z.array(z.string().min(1).max(4000)).min(1).max(1000).describe('the files that are asked about'),
});
export type UsesChoices = z.infer<typeof UsesChoices>;

/** What some files use, or what uses them. */
export interface Uses {
  asked: string[];
  files: TracedFile[];
  /** Root assemblies that the files belong to. */
  roots: string[];
}

/** What some files lead to, to any depth. */
export const USES = usesReport({
  name: 'uses',
  direction: 'uses',
  title: 'Uses',
  purpose: 'List everything that some files use, directly and through others.',
  none: 'uses no other file',
  noneOfSeveral: 'use no other file',
});

/** What leads to some files, to any depth: what breaks if they go or change. */
export const USED_IN = usesReport({
  name: 'used-in',
  direction: 'used-in',
  title: 'Used in',
  purpose:
    'List everything that uses some files, directly and through others: what breaks if they go or change.',
  none: 'is used by no other file',
  noneOfSeveral: 'are used by no other file',
});

interface Asked {
  name: string;
  direction: Direction;
  title: string;
  purpose: string;
  none: string;
  noneOfSeveral: string;
}

function usesReport({
  name,
  direction,
  title,
  purpose,
  none,
  noneOfSeveral,
}: Asked): Report<UsesChoices, Uses> {
  return report<UsesChoices, Uses>({
    name,
    title,
    purpose,
    place: 'links',
    page: name,
    accepts: { what: 'files', parameter: 'file', isUnlisted: true },
    choices: UsesChoices,
    cost: 'quick',
    argument: 'files',
    isAboutUsers: true,
    look: async (context, { files }) => usesOf(await context.project(), files, direction),
    json: ({ files, roots }) => ({
      files: files.map(({ path, kind, state, depth, through, occurrences, roots: reached }) => ({
        path,
        kind,
        state,
        depth,
        through,
        occurrences,
        roots: reached,
      })),
      roots,
    }),
    words: ({ asked, files, roots }) => [
      ...columns(
        files.map(({ path, kind, state, through, occurrences }) => [
          path,
          kind,
          state,
          LINK_KINDS[kind].places || occurrences > 0 ? `${occurrences} x` : '',
          through.length > 0 ? `through ${through.join(' > ')}` : '',
        ]),
        [3],
      ),
      ...(files.length > 0 ? [''] : []),
      inWords(asked, files, roots),
    ],
    summary: ({ asked, files, roots }) => inWords(asked, files, roots),
    tables: ({ files }) => [
      {
        title,
        columns: [
          { title: 'File', kind: 'path' },
          { title: 'State', kind: 'state' },
          { title: 'Kind', kind: 'short' },
          { title: 'Steps', kind: 'number' },
          { title: 'Times', kind: 'number' },
          { title: 'Through' },
          { title: 'Root assemblies' },
        ],
        rows: files.map(({ path, state, kind, depth, occurrences, through, roots }) => [
          path,
          state,
          kind,
          depth,
          occurrences > 0 ? occurrences : null,
          through.length > 0 ? through.join(' > ') : 'direct',
          roots.join(', '),
        ]),
      },
    ],
    hasFindings: ({ files }) => files.some(({ state }) => isBroken(state)),
  });

  function inWords(asked: readonly string[], files: readonly TracedFile[], roots: readonly string[]): string {
    const who = asked.length === 1 ? asked[0]! : `These ${asked.length} files`;
    const below =
      roots.length > 0 ? ` Root assemblies: ${roots.join(', ')}.` : ' No root assembly is reached.';
    if (files.length === 0) return `${who} ${asked.length === 1 ? none : noneOfSeveral}.${below}`;
    const direct = files.filter(({ depth }) => depth === 1).length;
    const broken = files.filter(({ state }) => isBroken(state)).length;
    const [verb, verbs] = direction === 'uses' ? ['uses', 'use'] : ['is used by', 'are used by'];
    return [
      `${who} ${asked.length === 1 ? verb : verbs} ${plural(files.length, 'file')}, ${direct} directly`,
      broken > 0 ? `; ${plural(broken, 'link')} broken on the way.` : '.',
      below,
    ].join('');
  }
}

/** @throws Refusal for a file that is not there */
function usesOf(project: Project, asked: readonly string[], direction: Direction): Uses {
  for (const path of asked) if (!project.files.has(path)) throw new Refusal(`There is no file ${path}.`);
  const roots = new Set(rootsOf(project));
  const graph = linkGraphOf(project);
  return {
    asked: [...asked],
    files: trace(graph, asked, direction, roots),
    roots: rootsReached(graph, asked, roots),
  };
}
