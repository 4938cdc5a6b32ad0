import { describe, expect, it } from 'vitest';
import type { BillRow } from '#core/jobs/bom/bill';
import { linesOf, openLines } from './bill-lines';

const row = (level: number, name: string, more: Partial<BillRow> = {}): BillRow => ({
  level,
  id: name,
  name,
  file: `parts/${name}.stp`,
  definition: 1,
  isAssembly: false,
  isMissing: false,
  bodies: 1,
  holder: { file: 'top.stp', definition: 1 },
  isLinked: true,
  quantity: 1,
  total: 2,
  material: null,
  density: null,
  volume: null,
  mass: 1,
  totalMass: 2,
  use: null,
  properties: [],
  ...more,
});
const rows = [row(1, 'drive'), row(2, 'shaft', { material: 'Steel' }), row(3, 'key'), row(1, 'base')];
const shown = (lines: ReturnType<typeof linesOf>) =>
  lines.map(({ depth, row: of, group }) => `${depth} ${of?.name ?? group}`);

describe('lines of a bill', () => {
  it('stand level by level; what is above something that fits comes along', () => {
    expect(shown(linesOf(rows, true, 'none', null))).toEqual(['0 drive', '1 shaft', '2 key', '0 base']);
    expect(shown(linesOf(rows, true, 'none', ({ name }) => name === 'key'))).toEqual([
      '0 drive',
      '1 shaft',
      '2 key',
    ]);
    expect(shown(linesOf(rows, false, 'none', ({ name }) => name === 'key'))).toEqual(['0 key']);
  });

  it('are put together under headings, with what they come to', () => {
    const lines = linesOf(rows, false, 'material', null);
    expect(shown(lines)).toEqual(['0 No material', '1 drive', '1 key', '1 base', '0 Steel', '1 shaft']);
    expect(lines[0]).toMatchObject({ inner: 3, total: 6, mass: 6 });
    const unknown = linesOf([row(1, 'a', { totalMass: null })], false, 'folder', null);
    expect(unknown[0]).toMatchObject({ group: 'parts', mass: null });
  });

  it('hide what is below a closed one', () => {
    const lines = linesOf(rows, true, 'none', null);
    expect(shown(openLines(lines, new Set(['0'])))).toEqual(['0 drive', '0 base']);
    expect(shown(openLines(lines, new Set(['1'])))).toEqual(['0 drive', '1 shaft', '0 base']);
  });
});
