import { describe, expect, it } from 'vitest';
import { totalsOf } from './structure-totals';

const row = (parent: number, quantity: number, bodies: number, volume: number | null, file: string) => ({
  parent,
  quantity,
  bodies,
  volume,
  file,
  density: file.startsWith('steel') ? 7850 : null,
});

describe('what lies below a row', () => {
  it('counts every placing, and every file once', () => {
    const rows = [
      row(-1, 1, 0, null, 'top.stp'),
      row(0, 2, 0, null, 'sub.stp'),
      row(1, 3, 2, 1000, 'steel-pin.stp'),
      row(0, 4, 2, 1000, 'steel-pin.stp'),
    ];
    expect(totalsOf(rows)).toEqual([
      { bodies: 20, volume: 10_000, mass: expect.closeTo(78.5), files: 3 },
      { bodies: 6, volume: 3000, mass: expect.closeTo(23.55), files: 2 },
      { bodies: 2, volume: 1000, mass: expect.closeTo(7.85), files: 1 },
      { bodies: 2, volume: 1000, mass: expect.closeTo(7.85), files: 1 },
    ]);
  });

  it('does not know the whole where it does not know a part, but what stands beside it', () => {
    const rows = [
      row(-1, 1, 0, null, 'top.stp'),
      row(0, 1, 1, null, 'steel-new.stp'),
      row(0, 1, 1, 500, 'cast.stp'),
      row(0, 1, 1, 500, 'steel.stp'),
    ];
    expect(totalsOf(rows).map(({ volume, mass }) => [volume, mass])).toEqual([
      [null, null],
      [null, null],
      [500, null],
      [500, expect.closeTo(3.925)],
    ]);
  });
});
