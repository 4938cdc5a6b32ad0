import type { ArrangedOccurrence } from '#server/views/operations/arrange-view';
import { plural } from '../../ui/format';
import type { LedgerColumn, LedgerProps } from '../../ui/ledger/Ledger';
import { PathText } from '../../ui/PathText';

/** The table of the occurrences of an assembly file. */
export function occurrenceTable(file: string, rows: readonly ArrangedOccurrence[]) {
  return {
    label: 'Components of the assembly',
    columns: COLUMNS,
    rows,
    keyOf: ({ key }) => key,
    tree: { depth: ({ depth }) => depth, open: () => null, onToggle: () => {} },
    empty: `${file} places no components.`,
  } satisfies Partial<LedgerProps<ArrangedOccurrence>>;
}

/** Components that somebody comes with: each by the number of what holds it, and its own, or its file. */
export function occurrencesAsked(text: string | null, occurrences: readonly ArrangedOccurrence[]): string[] {
  const wanted = new Set(text?.split(' ') ?? []);
  return occurrences.flatMap(({ key, parent, component, file }) =>
    wanted.has(`${parent}:${file === null ? component : encodeURIComponent(file)}`) ? [key] : [],
  );
}

const COLUMNS: LedgerColumn<ArrangedOccurrence>[] = [
  {
    key: 'name',
    title: 'Component',
    width: 'minmax(160px, 1.5fr)',
    cell: ({ name }) => name,
    sort: ({ name }) => name,
  },
  {
    key: 'is',
    title: 'Is',
    width: 'minmax(110px, 1fr)',
    cell: ({ componentName, name }) => (componentName === name ? '' : componentName),
    sort: ({ componentName }) => componentName,
  },
  {
    key: 'holds',
    title: 'Holds',
    width: '104px',
    cell: ({ holds }) => (holds > 0 ? plural(holds, 'component') : ''),
    sort: ({ holds }) => holds,
  },
  {
    key: 'file',
    title: 'File',
    width: 'minmax(130px, 1fr)',
    cell: ({ file }) =>
      file === null ? <span className="muted">in this file</span> : <PathText path={file} />,
    sort: ({ file }) => file ?? '',
  },
];
