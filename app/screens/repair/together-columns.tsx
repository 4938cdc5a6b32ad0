import { Checkbox } from '@mantine/core';
import type { RepairRow } from '#server/views/operations/repair-table';
import { LinkMark } from '../../ui/LinkMark';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { Sure } from '../../ui/Sure';
import classes from './Repair.module.css';

interface Ticks {
  isTicked: (row: RepairRow) => boolean;
  targetOf: (row: RepairRow) => string | null;
  tick: (rows: readonly RepairRow[], on: boolean) => void;
}

/** What a link asks for: the name in its holder, else that of the file. */
export function nameOf({ kind, wanted, written }: RepairRow): string {
  return kind === 'source' ? 'The source' : wanted || written.split(/[\\/]/).at(-1)!;
}

/** A link, the file that is proposed for it, how sure, and why; ticked where it is repaired. */
export function columnsFor({ isTicked, targetOf, tick }: Ticks): LedgerColumn<RepairRow>[] {
  return [
    {
      key: 'link',
      title: 'Broken link',
      width: 'minmax(150px, 1.3fr)',
      cell: (row) => (
        <span className={classes.tickCell}>
          <Checkbox
            aria-label={`Repair ${nameOf(row)} in ${row.holder}`}
            checked={isTicked(row)}
            disabled={targetOf(row) === null}
            tabIndex={-1}
            onClick={(event) => event.stopPropagation()}
            onChange={(event) => tick([row], event.currentTarget.checked)}
          />
          <LinkMark state={row.state} word="never" title={`${row.state}: ${row.reason}`} />
          <span className={classes.cut} title={`${row.written}, in ${row.holder}`}>
            {nameOf(row)}
          </span>
        </span>
      ),
      sort: nameOf,
      text: ({ written }) => written,
    },
    {
      key: 'holder',
      title: 'In',
      width: 'minmax(96px, 1fr)',
      cell: ({ holder }) => (
        <span className={classes.file} title={holder}>
          {holder.split('/').at(-1)}
        </span>
      ),
      sort: ({ holder }) => holder,
    },
    {
      key: 'file',
      title: 'Proposed file',
      width: 'minmax(120px, 1.4fr)',
      cell: (row) => {
        const target = targetOf(row);
        return target === null ? (
          <span className="muted">none</span>
        ) : (
          <span className={classes.file} title={target}>
            {target}
          </span>
        );
      },
      sort: targetOf,
    },
    {
      key: 'sure',
      title: 'How sure',
      width: '104px',
      cell: (row) => {
        if (targetOf(row) !== row.target) return <span className="muted">chosen by you</span>;
        if (row.score !== null) return <Sure part={row.score} />;
        return row.target !== null && <span className="muted">said by you</span>;
      },
      sort: ({ score }) => score,
    },
    {
      key: 'why',
      title: 'Why',
      width: 'minmax(110px, 1.2fr)',
      cell: ({ why }) => (
        <span className={classes.cut} title={why}>
          {why}
        </span>
      ),
      sort: ({ why }) => why,
    },
  ];
}
