import { describe, expect, it } from 'vitest';
import { USUAL } from '#server/auth/preferences';
import { measuresFor } from '../../ui/measures/measures';
import { coloursByAge, coloursByAmount, coloursByMaterial } from './colourings';

describe('colours on the stage', () => {
  it('tell materials apart, the one of most components first, and say what has none', () => {
    const row = (material: string | null, bodies = 1) => ({ material, bodies });
    const { colours, legend } = coloursByMaterial([
      row('Steel'),
      row('Brass'),
      row('Steel'),
      row(null),
      row(null, 0),
    ]);
    expect(legend.map(([words]) => words)).toEqual([
      'Steel, 2 components',
      'Brass, 1 component',
      'without a material, 1 component',
    ]);
    expect(colours.get(0)).toBe(colours.get(2));
    expect(new Set([0, 1, 3].map((n) => colours.get(n))).size).toBe(3);
  });

  it('go from little to much in steps of as many components each, in one unit', () => {
    const amounts = [null, 1, 2, 3, 4, 5000, 6000, 7000, 8000, 9000, 10_000];
    const { colours, legend } = coloursByAmount(amounts, measuresFor(USUAL, null).masses(amounts));
    expect(legend).toHaveLength(5);
    expect(legend.map(([words]) => words)[0]).toBe('from 0.00100 kg');
    expect(legend.at(-1)![1]).toBe(colours.get(10));
    expect(colours.get(1)).toBe(colours.get(2));
    expect(colours.get(1)).not.toBe(colours.get(10));
    expect(colours.get(0)).not.toBe(colours.get(1));
  });

  it('are as few as there are amounts', () => {
    const { legend } = coloursByAmount([5, 5, 5], measuresFor(USUAL, null).volumes([5]));
    expect(legend).toHaveLength(1);
  });

  it('by when its file changed: the newest is the strongest, what is not there says nothing', () => {
    const now = Date.parse('2026-12-01T12:00:00Z');
    const { colours, legend } = coloursByAge(
      [
        '2026-12-01T11:00:00Z',
        '2026-11-20T00:00:00Z',
        undefined,
        '2020-01-01T00:00:00Z',
        '2026-12-01T00:00:00Z',
      ],
      now,
    );
    expect(legend.map(([words]) => words)).toEqual([
      'within a day, 2 components',
      'within 30 days, 1 component',
      'longer ago, 1 component',
    ]);
    expect(colours.get(0)).toBe(colours.get(4));
    expect(new Set(colours.values()).size).toBe(4);
    expect(legend.map(([, colour]) => colour)).toEqual([colours.get(0), colours.get(1), colours.get(3)]);
  });
});
