import { WORST_FIRST } from '#core/files/links/resolve';
import type { StructureViewRow } from '#server/views/structure/structure-view';
import { count, shortCount } from '../../ui/format';
import { LinkMark } from '../../ui/LinkMark';
import type { FilterWords } from '../../ui/ledger/filter-rows';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { FilePicture } from '../../ui/project/FilePicture';
import classes from './Structure.module.css';
import type { Scales } from './scales';

/** @param all rows of the table, folded ones too */
export function columnsFor(
  { volume, mass }: Scales,
  all: readonly StructureViewRow[],
): LedgerColumn<StructureViewRow>[] {
  return [
    {
      key: 'name',
      title: 'Component',
      width: 'minmax(180px, 2fr)',
      cell: (row) => (
        <span className={classes.name}>
          {row.name}
          {row.liteOf && (
            <span className="muted" title={row.liteOf}>
              {' '}
              lite of {row.liteOf.split('/').at(-1)}
            </span>
          )}
        </span>
      ),
      sort: ({ name }) => name,
    },
    {
      key: 'picture',
      title: 'Picture',
      width: '44px',
      isExtra: true,
      cell: ({ link, file, depth }) =>
        (link === null ? depth === 0 : link.state === 'sound' || link.state === 'behind') && (
          <FilePicture path={file} />
        ),
    },
    {
      key: 'quantity',
      title: 'Qty',
      width: '34px',
      numeric: true,
      cell: (row) => (row.depth > 0 ? count(row.quantity) : ''),
      sort: ({ quantity }) => quantity,
    },
    {
      key: 'file',
      title: 'File',
      width: 'minmax(146px, 1.2fr)',
      cell: (row) => (
        <span className={classes.fileCell}>
          {row.link && <LinkMark state={row.link.state} title={row.link.reason} word="unless sound" />}
          <span className={classes.file}>
            {/* Names of parts differ at their ends: the beginning is cut. */}
            <bdi>{row.link || row.depth === 0 ? row.file.split(/[\\/]/).at(-1) : 'in its parent'}</bdi>
          </span>
        </span>
      ),
      sort: ({ file }) => file.split(/[\\/]/).at(-1)!,
    },
    {
      key: 'link',
      title: 'Link',
      width: '86px',
      // Its mark stands before the file; by itself it is sorted by.
      isExtra: true,
      cell: (row) => row.link && <LinkMark state={row.link.state} title={row.link.reason} />,
      sort: ({ link }) => link && WORST_FIRST.indexOf(link.state),
      text: ({ link }) => link?.state ?? null,
    },
    {
      key: 'bodies',
      title: 'Bodies',
      width: '46px',
      numeric: true,
      cell: ({ totals, children }) => (
        <Total isSum={children > 0} whole={totals.bodies}>
          {totals.bodies > 0 && shortCount(totals.bodies)}
        </Total>
      ),
      sort: ({ totals }) => totals.bodies || null,
    },
    {
      key: 'volume',
      title: 'Volume',
      unit: volume.unit,
      width: '88px',
      numeric: true,
      cell: ({ totals, children }) => (
        <Total isSum={children > 0}>{!!totals.volume && volume.words(totals.volume)}</Total>
      ),
      sort: ({ totals }) => totals.volume || null,
      text: ({ totals }) => (totals.volume ? volume.amount(totals.volume) : null),
    },
    {
      key: 'mass',
      title: 'Mass',
      unit: mass.unit,
      width: '76px',
      numeric: true,
      isExtra: all.every(({ totals }) => !totals.mass),
      cell: ({ totals, children }) => (
        <Total isSum={children > 0}>{!!totals.mass && mass.words(totals.mass)}</Total>
      ),
      sort: ({ totals }) => totals.mass || null,
      text: ({ totals }) => (totals.mass ? mass.amount(totals.mass) : null),
    },
    {
      key: 'material',
      title: 'Material',
      width: 'minmax(80px, 1fr)',
      isExtra: true,
      cell: ({ material }) => material ?? '',
      sort: ({ material }) => material,
    },
  ];
}

/** A number; quiet where it is the sum of what lies below. */
function Total({
  isSum,
  whole,
  children,
}: {
  isSum: boolean;
  /** The number in full, where it may be shortened. */
  whole?: number;
  children: React.ReactNode;
}) {
  return isSum ? (
    <span
      className="muted"
      title={whole === undefined ? 'With all that lies below' : `${count(whole)}, with all that lies below`}
    >
      {children}
    </span>
  ) : (
    children
  );
}

/** What a filter knows of rows besides their texts. */
export const WORDS: FilterWords<StructureViewRow> = {
  missing: ({ link }) => link?.state === 'missing',
  ambiguous: ({ link }) => link?.state === 'ambiguous',
  behind: ({ link }) => link?.state === 'behind',
  loop: ({ link }) => link?.state === 'loop',
  assembly: ({ children }) => children > 0,
  part: ({ children, bodies }) => children === 0 && bodies > 0,
  made: ({ use }) => use === 'made',
  bought: ({ use }) => use === 'bought',
};

/** Words, and sizes of files as they are typed. */
export const SHOWN_WORDS = [...Object.keys(WORDS), '>1MB'];
