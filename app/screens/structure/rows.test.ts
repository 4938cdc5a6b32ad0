import { describe, expect, it } from 'vitest';
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
const names = (rows: { name: string }[]) => rows.map(({ name }) => name);

describe('rows of the structure table', () => {
  it('are all shown when nothing is closed', () => expect(shownRows(ROWS, new Set(), '')).toEqual(ROWS));

  it('are left out below a closed row, at any depth', () => {
    expect(names(shownRows(ROWS, new Set(['0.0']), ''))).toEqual(['unit', 'drive', 'base']);
    expect(names(shownRows(ROWS, new Set(['0.0.1']), ''))).toEqual([
      'unit',
      'drive',
      'housing',
      'bearing',
      'base',
    ]);
    expect(names(shownRows(ROWS, new Set(['0']), ''))).toEqual(['unit']);
  });

  it('are filtered by name, file and product, with all above a fit, whether closed or not', () => {
    expect(names(shownRows(ROWS, new Set(['0']), 'BALL'))).toEqual(['unit', 'drive', 'bearing', 'ball']);
    expect(names(shownRows(ROWS, new Set(), 'base.stp'))).toEqual(['unit', 'base']);
    expect(names(shownRows(ROWS, new Set(), 'id-housing'))).toEqual(['unit', 'drive', 'housing']);
    expect(shownRows(ROWS, new Set(), 'nothing like it')).toEqual([]);
  });

  it('know everything below them', () => {
    expect([...below(ROWS, 1)]).toEqual([1, 2, 3, 4]);
    expect([...below(ROWS, 5)]).toEqual([5]);
    expect([...below(ROWS, 0)]).toHaveLength(ROWS.length);
  });
});
