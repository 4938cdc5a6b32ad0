import { expect, it } from 'vitest';
import { tableText } from './table-text';
import type { LedgerColumn } from './useLedgerColumns';

interface Row {
  name: string;
  volume: number | null;
}
const COLUMNS: LedgerColumn<Row>[] = [
  { key: 'name', title: 'Name', width: '1fr', cell: () => null, sort: ({ name }) => name },
  { key: 'tick', title: '', width: '1fr', cell: () => null },
  {
    key: 'volume',
    title: 'Volume',
    unit: 'mm³',
    width: '1fr',
    cell: () => null,
    sort: ({ volume }) => volume,
  },
];

it('a table for other programs has bare numbers, quoted texts, and no formula that a name could be', () => {
  const rows = [
    { name: 'Lid, "upper"', volume: 1234.5 },
    { name: '=cmd()', volume: null },
  ];
  expect(tableText(COLUMNS, rows, ',')).toBe('Name,"Volume, mm³"\r\n"Lid, ""upper""",1234.5\r\n"\'=cmd()",');
  expect(tableText(COLUMNS, rows.slice(0, 1), '\t').split('\r\n')[1]).toContain('\t1234.5');
});
