import type { BillRow } from '#core/jobs/bom/bill';
import { propertiesIn } from '#core/jobs/bom/properties-in';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import type { Measures } from '../../ui/measures/measures';
import { PathText } from '../../ui/PathText';
import { FilePicture } from '../../ui/project/FilePicture';
import classes from './Bill.module.css';
import type { BillLine } from './bill-lines';

/** Kilogrammes are what a bill has, grammes what figures are shown of. */
const grammes = (kilograms: number | null | undefined) => (kilograms == null ? null : kilograms * 1000);

/** Rows whose file shows them, and not what they stand in beside others. @param root the file that the bill is of */
function picturedIn(rows: readonly BillRow[], root: string | null): (row: BillRow) => boolean {
  const inside = new Map<string, Set<number>>();
  for (const { file, definition } of rows) inside.set(file, (inside.get(file) ?? new Set()).add(definition));
  return ({ file, isMissing }) => !isMissing && file !== root && inside.get(file)?.size === 1;
}

/** The columns of a bill; each property that a file states is one that can be shown. */
export function columnsOf(
  rows: readonly BillRow[],
  root: string | null,
  isByLevel: boolean,
  measures: Measures,
): LedgerColumn<BillLine>[] {
  const isPictured = picturedIn(rows, root);
  const masses = measures.masses(rows.map(({ mass }) => grammes(mass)));
  const all = measures.masses(rows.map(({ totalMass }) => grammes(totalMass)));
  const volumes = measures.volumes(rows.map(({ volume }) => volume));
  const figure = (value: number | null | undefined, words: (value: number) => string) =>
    value == null ? <span className="muted">–</span> : words(value);
  return [
    {
      key: 'name',
      title: 'Component',
      width: 'minmax(190px, 2fr)',
      cell: ({ row, group, inner }) =>
        row ? (
          row.name
        ) : (
          <strong>
            {group} <span className="muted">({inner})</span>
          </strong>
        ),
      sort: ({ row, group }) => row?.name ?? group ?? '',
    },
    {
      key: 'picture',
      title: 'Picture',
      width: '44px',
      cell: ({ row }) => row && isPictured(row) && <FilePicture path={row.file} />,
    },
    {
      key: 'id',
      title: 'Part number',
      width: '120px',
      cell: ({ row }) => <span className="mono">{row?.id}</span>,
      sort: ({ row }) => row?.id ?? '',
    },
    ...(isByLevel
      ? [
          {
            key: 'quantity',
            title: 'Quantity',
            width: '78px',
            numeric: true,
            cell: ({ row }: BillLine) => row?.quantity,
            sort: ({ row }: BillLine) => row?.quantity ?? 0,
          },
        ]
      : []),
    {
      key: 'total',
      title: 'In all',
      width: '66px',
      numeric: true,
      cell: (line) => (line.row ? line.row.total : line.total),
      sort: (line) => (line.row ? line.row.total : line.total),
    },
    {
      key: 'material',
      title: 'Material',
      width: '124px',
      cell: ({ row }) =>
        row &&
        (row.material ?? <span className="muted">{row.isAssembly || row.isMissing ? '' : 'none'}</span>),
      sort: ({ row }) => row?.material ?? '',
    },
    {
      key: 'mass',
      title: 'Mass',
      width: '86px',
      numeric: true,
      unit: masses.unit,
      cell: ({ row }) => row && figure(grammes(row.mass), masses.words),
      sort: ({ row }) => row?.mass ?? -1,
      text: ({ row }) => (row?.mass == null ? null : masses.amount(row.mass * 1000)),
    },
    {
      key: 'totalMass',
      title: 'In all',
      name: 'Mass in all',
      width: '90px',
      numeric: true,
      unit: all.unit,
      cell: (line) => figure(grammes(line.row ? line.row.totalMass : line.mass), all.words),
      sort: (line) => (line.row ? line.row.totalMass : line.mass) ?? -1,
      text: ({ row }) => (row?.totalMass == null ? null : all.amount(row.totalMass * 1000)),
    },
    {
      key: 'use',
      title: 'From',
      name: 'Made or bought',
      width: '84px',
      cell: ({ row }) => row?.use ?? '',
      sort: ({ row }) => row?.use ?? '',
    },
    {
      key: 'file',
      title: 'File',
      width: 'minmax(140px, 1.4fr)',
      cell: ({ row }) =>
        row && (
          <span
            className={row.isMissing ? classes.missing : undefined}
            title={row.isMissing ? `${row.file}: not there` : undefined}
          >
            {row.isMissing ? `not there: ${row.file}` : <PathText path={row.file} />}
          </span>
        ),
      sort: ({ row }) => row?.file ?? '',
    },
    {
      key: 'volume',
      title: 'Volume',
      width: '96px',
      numeric: true,
      isExtra: true,
      unit: volumes.unit,
      cell: ({ row }) => row && figure(row.volume, volumes.words),
      sort: ({ row }) => row?.volume ?? -1,
      text: ({ row }) => (row?.volume == null ? null : volumes.amount(row.volume)),
    },
    {
      key: 'density',
      title: 'Density',
      width: '96px',
      numeric: true,
      isExtra: true,
      unit: 'kg/m³',
      cell: ({ row }) => row && figure(row.density, (value) => `${measures.number(value, 0)} kg/m³`),
      sort: ({ row }) => row?.density ?? -1,
    },
    ...propertiesIn(rows).map(
      (name): LedgerColumn<BillLine> => ({
        key: `property ${name}`,
        title: name,
        width: '130px',
        // There may be many: whoever wants one shows it.
        isExtra: true,
        cell: ({ row }) => statedValue(row, name),
        sort: ({ row }) => row?.properties.find((property) => property.name === name)?.value ?? '',
      }),
    ),
  ];
}

function statedValue(row: BillRow | undefined, wanted: string): string {
  const property = row?.properties.find(({ name }) => name === wanted);
  if (!property) return '';
  return property.unit === undefined ? String(property.value) : `${property.value} ${property.unit}`;
}
