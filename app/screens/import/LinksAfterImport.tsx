import { useState } from 'react';
import type { LinkState } from '#core/files/links/resolve';
import { WORST_FIRST } from '#core/files/links/resolve';
import type { LinksAfter } from '#core/jobs/import/links-after';
import { plural } from '../../ui/format';
import { LinkMark } from '../../ui/LinkMark';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { PathItems } from '../../ui/operation/PathItems';
import { PathText } from '../../ui/PathText';
import classes from './Import.module.css';

interface LinkRow {
  key: string;
  holder: string;
  written: string;
  state: LinkState;
  /** Where it leads then, or why nowhere. */
  leads: string;
}

const COLUMNS: LedgerColumn<LinkRow>[] = [
  {
    key: 'state',
    title: 'Then',
    width: '104px',
    cell: ({ state }) => <LinkMark state={state} />,
    sort: ({ state }) => WORST_FIRST.indexOf(state),
    text: ({ state }) => state,
  },
  {
    key: 'from',
    title: 'In',
    width: 'minmax(120px, 1fr)',
    cell: ({ holder }) => <PathText path={holder} />,
    sort: ({ holder }) => holder,
  },
  {
    key: 'written',
    title: 'Link',
    width: 'minmax(120px, 1fr)',
    cell: ({ written, leads }) => (
      <span title={leads}>
        <PathText path={written} />
      </span>
    ),
    sort: ({ written }) => written,
  },
];

/** Whether there is anything to say about links. */
export function changesLinks({ broken, mended, behind }: LinksAfter): boolean {
  return broken.length > 0 || mended.length > 0 || behind > 0;
}

/** What an import breaks and mends: broken links first. */
export function LinksAfterImport({ links }: { links: LinksAfter }) {
  const [selected, setSelected] = useState<string | null>(null);
  const { broken, mended, behind } = links;
  const key = ({ holder, kind, written }: LinksAfter['broken'][number] | LinksAfter['mended'][number]) =>
    JSON.stringify([holder, kind, written]);
  const rows: LinkRow[] = [
    ...broken.map((link) => ({ ...link, key: key(link), leads: link.reason })),
    ...mended.map((link) => ({
      ...link,
      key: key(link),
      state: 'sound' as const,
      leads: `Leads to ${link.to}.`,
    })),
  ];
  const chosen = rows.find((row) => row.key === selected);
  return (
    <div className={classes.links}>
      <h2>{inWords(links)}</h2>
      {behind > 0 && (
        <p>
          {plural(behind, 'file made from others falls', 'files made from others fall')} behind the source.
        </p>
      )}
      {rows.length > 0 && (
        <Ledger
          label="Links that change"
          columns={COLUMNS}
          rows={rows}
          keyOf={(row) => row.key}
          selected={selected}
          onSelect={(row) => setSelected(row.key)}
          menu={([row]) => <PathItems path={row?.holder} />}
          empty=""
        />
      )}
      {chosen && <p role="status">{chosen.leads}</p>}
      {broken.length > 0 && <p>The Repair desk looks for what fits them, once the files are imported.</p>}
    </div>
  );
}

function inWords({ broken, mended }: LinksAfter): string {
  const parts = [
    broken.length > 0 && plural(broken.length, 'link will lead nowhere', 'links will lead nowhere'),
    mended.length > 0 && plural(mended.length, 'broken link is mended', 'broken links are mended'),
  ].filter(Boolean);
  return parts.length > 0 ? parts.join(', ') : 'No link breaks by this';
}
