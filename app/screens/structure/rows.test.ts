import { describe, expect, it } from 'vitest';
import { filterFor } from '../../ui/ledger/filter-rows';
import { below, shownRows } from './rows';

const row = (key: string, parent: number, name: string, file = `${name}.stp`) => ({
  key,
  parent,
  name,
  file,
  product: `ID-${name}`,
});
const ROWS = [
  row('0', -1, 'unit'),
  row('0.0', 0, 'drive'),
  row('0.0.0', 1, 'housing'),
  row('0.0.1', 1, 'bearing'),
  row('0.0.1.0', 3, 'ball'),
  row('0.1', 0, 'base'),
];
/** Fits rows that hold a text. */
const fitting = (typed: string) =>
  filterFor(typed, { texts: ({ name, file, product }: (typeof ROWS)[number]) => [name, file, product] });
const names = (rows: { name: string }[]) => rows.map(({ name }) => name);

describe('rows of the structure table', () => {
  it('are all shown when nothing is closed', () => expect(shownRows(ROWS, new Set(), null)).toEqual(ROWS));

  it('are left out below a closed row, at any depth', () => {
    expect(names(shownRows(ROWS, new Set(['0.0']), null))).toEqual(['unit', 'drive', 'base']);
    expect(names(shownRows(ROWS, new Set(['0.0.1']), null))).toEqual([
      'unit',
      'drive',
      'housing',
      'bearing',
      'base',
    ]);
    expect(names(shownRows(ROWS, new Set(['0']), null))).toEqual(['unit']);
  });

  it('are filtered by name, file and product, with all above a fit, whether closed or not', () => {
    expect(names(shownRows(ROWS, new Set(['0']), fitting('BALL')))).toEqual([
      'unit',
      'drive',
      'bearing',
      'ball',
    ]);
    expect(names(shownRows(ROWS, new Set(), fitting('base.stp')))).toEqual(['unit', 'base']);
    expect(names(shownRows(ROWS, new Set(), fitting('id-housing')))).toEqual(['unit', 'drive', 'housing']);
    expect(shownRows(ROWS, new Set(), fitting('nothing like it'))).toEqual([]);
  });

  it('know everything below them', () => {
    expect([...below(ROWS, 1)]).toEqual([1, 2, 3, 4]);
    expect([...below(ROWS, 5)]).toEqual([5]);
    expect([...below(ROWS, 0)]).toHaveLength(ROWS.length);
  });
});
