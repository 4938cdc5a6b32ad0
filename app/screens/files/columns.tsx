import { IconStarFilled } from '@tabler/icons-react';
import { brokenIn } from '#core/files/links/resolve';
import type { FileRow } from '#server/views/packed/packed-rows';
import { addressIn } from '../../ui/address/addresses';
import { count, plural } from '../../ui/format';
import { LinkCounts } from '../../ui/LinkMark';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { Bytes } from '../../ui/measures/Figures';
import { PathText } from '../../ui/PathText';
import classes from './Files.module.css';

/** What the table of files shows of each. @param starred paths of those that have a star */
export function columnsFor(projectId: string, starred: ReadonlySet<string>): LedgerColumn<FileRow>[] {
  return [
    {
      key: 'path',
      title: 'File',
      width: 'minmax(224px, 2fr)',
      cell: (row) => (
        <>
          <span className={classes.picture}>
            {row.hasPicture && (
              <img src={pictureAddress(projectId, row)} alt="" width={28} height={21} loading="lazy" />
            )}
          </span>
          <PathText path={row.path} />
          {starred.has(row.path) && (
            <IconStarFilled size={12} className={classes.star} role="img" aria-label="starred" />
          )}
        </>
      ),
      text: ({ path }) => path,
      sort: ({ path }) => path,
    },
    ...COLUMNS,
  ];
}

/** Where the small picture of a file is: of its newest version. */
export function pictureAddress(projectId: string, { path, version }: FileRow): string {
  return addressIn(projectId, 'picture', { path, version: String(version) });
}

const COLUMNS: LedgerColumn<FileRow>[] = [
  {
    key: 'role',
    title: 'Role',
    width: '84px',
    cell: ({ role }) => role,
    sort: ({ role }) => role,
  },
  {
    key: 'product',
    title: 'Product',
    width: 'minmax(120px, 1fr)',
    cell: ({ product, error, damage }) =>
      error ? (
        <span className={classes.error}>cannot be read</span>
      ) : damage ? (
        <span title={damage}>
          {product} <span className={classes.error}>damaged</span>
        </span>
      ) : (
        product
      ),
    sort: ({ error, damage, product }) => (error ? '' : damage ? ' ' : product),
    text: ({ product }) => product,
  },
  {
    key: 'bodies',
    title: 'Bodies',
    width: '56px',
    numeric: true,
    cell: ({ bodies }) => (bodies > 0 ? count(bodies) : ''),
    sort: ({ bodies }) => bodies || null,
  },
  {
    key: 'links',
    title: 'Links it holds',
    width: 'minmax(196px, 1fr)',
    cell: ({ links, role }) =>
      role === 'assembly' || Object.values(links).some((n) => n > 0) ? <LinkCounts counts={links} /> : '',
    // Broken ones weigh more than any number of sound ones.
    text: ({ links }) =>
      Object.entries(links)
        .flatMap(([state, n]) => (n > 0 ? [`${n} ${state}`] : []))
        .join(', '),
    sort: ({ links }) => 1e6 * brokenIn(links) + 1e3 * links.behind + links.sound,
  },
  {
    key: 'used',
    title: 'Used in',
    width: '76px',
    cell: ({ usedBy, about, unused }) => {
      if (usedBy > 0) return plural(usedBy, 'file');
      if (unused) return <span className="muted">unused</span>;
      return about === null ? 'root' : <span title={`It shows ${about}.`}>—</span>;
    },
    sort: ({ usedBy }) => usedBy,
  },
  { key: 'unit', title: 'Unit', width: '40px', cell: ({ unit }) => unit ?? '', sort: ({ unit }) => unit },
  {
    key: 'version',
    title: 'Ver.',
    width: '36px',
    numeric: true,
    cell: ({ version }) => version,
    sort: ({ version }) => version,
  },
  {
    key: 'bytes',
    title: 'Size',
    unit: 'bytes',
    width: '72px',
    numeric: true,
    cell: (row) => <Bytes of={row.bytes} />,
    sort: (row) => row.bytes,
  },
];
