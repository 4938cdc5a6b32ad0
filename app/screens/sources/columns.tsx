import type { FollowLine } from '#core/jobs/split/newer/outline';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import type { Measures } from '../../ui/measures/measures';
import { Sure } from '../../ui/Sure';
import { differenceInWords } from './difference';
import classes from './Sources.module.css';

/** A line, and whether its component is taken from the source although it has changes of its own. */
export type ShownLine = FollowLine & { isTaken: boolean };

export const columnsFor = (measures: Measures): LedgerColumn<ShownLine>[] => [
  {
    key: 'change',
    title: 'Change',
    width: '84px',
    cell: ({ change, kept, isTaken }) => (
      <span className={classes.change} data-change={change} title={kept ?? undefined}>
        {kept === null ? change : isTaken ? 'taken anew' : 'left as it is'}
      </span>
    ),
    sort: ({ change }) => change,
  },
  {
    key: 'body',
    title: 'Body',
    width: 'minmax(96px, 1fr)',
    cell: ({ older, newer }) => <span className={classes.text}>{bodyInWords(older, newer)}</span>,
    sort: ({ older, newer }) => bodyInWords(older, newer),
  },
  {
    key: 'difference',
    title: 'Difference',
    width: 'minmax(130px, 1.3fr)',
    cell: (line) => {
      const words = differenceInWords(line, measures);
      return (
        <span className={classes.text} title={words}>
          {words}
        </span>
      );
    },
  },
  {
    key: 'file',
    title: 'File',
    width: 'minmax(138px, 1.4fr)',
    cell: ({ component }) =>
      component === null ? (
        <span className="muted">a new file</span>
      ) : (
        <span className={classes.file} title={component}>
          {component.split('/').at(-1)}
        </span>
      ),
  },
  {
    key: 'how',
    title: 'Matched by',
    width: '88px',
    cell: ({ how }) => how ?? '',
    sort: ({ how }) => how,
  },
  {
    key: 'confidence',
    title: 'How sure',
    width: '104px',
    cell: ({ confidence }) => confidence !== null && <Sure part={confidence} />,
    sort: ({ confidence }) => confidence,
  },
];

/** The name of a body, with the one that it has now when that is another. */
function bodyInWords(older: FollowLine['older'], newer: FollowLine['newer']): string {
  const [before, now] = [older, newer].map((body) => body && (body.name || `#${body.id}`));
  return before && now && older?.name !== newer?.name ? `${before} → ${now}` : (now ?? before ?? '');
}

/** What tells lines apart. */
export const keyOf = ({ older, newer, component }: FollowLine) =>
  `${component ?? ''}:${older?.id ?? ''}:${newer?.id ?? ''}`;
