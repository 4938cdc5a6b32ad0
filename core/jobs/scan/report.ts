import { z } from 'zod';
import { columns, plural } from '#core/command/words';
import { isBroken } from '#core/files/links/resolve';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { report } from '#core/report';
import { reportOf, type ScanReport } from './scan-report';

export const ScanChoices = z.object({
  search: z
    .array(z.string().max(1000))
    .max(100)
    .nullable()
    .default(null)
    .describe('folders in which files are looked for'),
});
export type ScanChoices = z.infer<typeof ScanChoices>;

/** What all files of a project are, and the state of every link between them. */
export const SCAN = report<ScanChoices, ScanReport>({
  name: 'scan',
  title: 'All links',
  purpose: 'List all files, and the state of the links between them.',
  place: 'links',
  page: 'links',
  accepts: { what: 'project' },
  choices: ScanChoices,
  cost: 'quick',
  look: async ({ project }, { search }) => reportOf(await project(search ?? undefined)),
  json: ({ files, ...rest }) => ({ files: files.map(({ isReadable: _, ...file }) => file), ...rest }),
  words,
  tables: ({ files, links }) => [
    {
      title: 'Links',
      columns: [
        { title: 'Held by', kind: 'path' },
        { title: 'State', kind: 'state' },
        { title: 'Leads to', kind: 'path' },
        { title: 'Written', kind: 'path' },
        { title: 'Kind', kind: 'short' },
        { title: 'Found', kind: 'short' },
        { title: 'Times', kind: 'number' },
        { title: 'Why' },
      ],
      rows: links.map(({ from, kind, written, to, state, reason, found, occurrences }) => [
        from,
        state,
        to,
        written,
        kind,
        found,
        LINK_KINDS[kind].places ? occurrences : null,
        reason,
      ]),
    },
    {
      title: 'Files',
      columns: [
        { title: 'File', kind: 'path' },
        { title: 'Role', kind: 'short' },
        { title: 'Format', kind: 'short' },
        { title: 'Unit', kind: 'short' },
        { title: 'Bodies', kind: 'number' },
        { title: 'Size (bytes)', kind: 'number' },
        { title: 'SHA-256' },
        { title: 'Trouble' },
      ],
      rows: files.map(({ path, role, format, unit, bodies, bytes, sha256, error }) => [
        path,
        role,
        format,
        unit,
        bodies,
        bytes,
        sha256,
        error,
      ]),
    },
  ],
  summary: totalsInWords,
  hasFindings: ({ files, links }) =>
    links.some(({ state }) => isBroken(state)) || files.some(({ error }) => error !== null),
});

function words({ files, links, roots, unused, totals }: ScanReport): string[] {
  const inState = (wanted: (state: ScanReport['links'][number]['state']) => boolean) =>
    links.flatMap(({ from, written, state, reason }) =>
      wanted(state) ? [`  ${state.padEnd(9)} ${from} -> ${written}: ${reason}`] : [],
    );
  return [
    ...columns(
      files.map((file) => [
        file.path,
        file.role,
        file.format,
        file.unit ?? '',
        file.bodies ? plural(file.bodies, 'body', 'bodies') : '',
        `${file.bytes.toLocaleString('en')} B`,
      ]),
      [5],
    ),
    '',
    totalsInWords({ totals }),
    `${plural(totals.occurrences, 'occurrence')} of ${plural(totals.distinctParts, 'distinct part')} below ${roots.join(', ') || 'no root assembly'}.`,
    ...inState(isBroken),
    ...inState((state) => state === 'behind'),
    ...files.flatMap(({ path, error, isReadable }) =>
      error === null ? [] : [`  ${isReadable ? 'damaged ' : 'unread  '}  ${path}: ${error}`],
    ),
    ...(unused.length > 0 ? [`Not used by any root: ${unused.join(', ')}`] : []),
  ];
}

function totalsInWords({ totals }: Pick<ScanReport, 'totals'>): string {
  return `${plural(totals.files, 'file')}, ${plural(totals.links, 'link')}: ${totals.sound} sound, ${totals.behind} behind, ${totals.missing} missing, ${totals.ambiguous} ambiguous, ${totals.loop} in loops.`;
}
