import { describe, expect, it } from 'vitest';
import { namePaths } from './name-paths';

describe('names from the top down', () => {
  it('are each their own, and the same when something comes or goes beside them', () => {
    const rows = [
      { name: 'unit', parent: -1 },
      { name: 'screw', parent: 0 },
      { name: 'screw', parent: 0 },
      { name: 'drive', parent: 0 },
      { name: 'screw', parent: 3 },
    ];
    const paths = namePaths(rows);
    expect(paths).toEqual(['unit', 'unit/screw', 'unit/screw#2', 'unit/drive', 'unit/drive/screw']);
    const [top, , ...rest] = rows;
    const fewer = namePaths([
      top!,
      ...rest.map((row) => ({ ...row, parent: row.parent === 3 ? 2 : row.parent })),
    ]);
    expect(fewer).toEqual(['unit', 'unit/screw', 'unit/drive', 'unit/drive/screw']);
  });
});
