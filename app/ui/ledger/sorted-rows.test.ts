import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sortedRows } from './sorted-rows';

interface Row {
  name: string;
  size: number | null;
  depth: number;
}
const names = (rows: Row[]) => rows.map(({ name }) => name).join(' ');
const size = (row: Row) => row.size;

describe('sorted rows', () => {
  it('go by numbers and words as people read them, with nothing at the end', () => {
    const rows = [
      { name: 'M10', size: 3, depth: 0 },
      { name: 'm8', size: null, depth: 0 },
      { name: 'M24', size: 12, depth: 0 },
    ];
    expect(names(sortedRows(rows, ({ name }) => name, false))).toBe('m8 M10 M24');
    expect(names(sortedRows(rows, size, false))).toBe('M10 M24 m8');
    expect(names(sortedRows(rows, size, true))).toBe('M24 M10 m8');
  });

  it('stay below the row that they belong to', () => {
    const rows = [
      { name: 'unit', size: 0, depth: 0 },
      { name: 'big', size: 9, depth: 1 },
      { name: 'big-2', size: 2, depth: 2 },
      { name: 'big-1', size: 1, depth: 2 },
      { name: 'small', size: 5, depth: 1 },
    ];
    const depth = (row: Row) => row.depth;
    expect(names(sortedRows(rows, size, false, depth))).toBe('unit small big big-1 big-2');
    expect(names(sortedRows(rows, size, true, depth))).toBe('unit big big-2 big-1 small');
  });

  it('are the same rows, and keep their order where the value is the same', () => {
    const row = fc.record({ name: fc.string(), size: fc.option(fc.nat(3)), depth: fc.nat(3) });
    fc.assert(
      fc.property(fc.array(row), fc.boolean(), (any, isDescending) => {
        // A row lies at most one deeper than the one above it.
        let above = -1;
        const rows = any.map((one) => {
          above = Math.min(one.depth, above + 1);
          return { ...one, depth: above };
        });
        const sorted = sortedRows(rows, size, isDescending, ({ depth }) => depth);
        expect(new Set(sorted)).toEqual(new Set(rows));
        expect(sorted).toHaveLength(rows.length);
        expect(sortedRows(sorted, size, isDescending, ({ depth }) => depth)).toEqual(sorted);
        expect(sortedRows(rows, () => 1, isDescending)).toEqual(rows);
      }),
    );
  });
});
