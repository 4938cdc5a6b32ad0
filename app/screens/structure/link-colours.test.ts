import { describe, expect, it } from 'vitest';
import type { LinkState } from '#core/files/links/resolve';
import { coloursByLink } from './link-colours';

const row = (parent: number, state: LinkState | null) => ({
  parent,
  link: state && { state, written: 'a', reason: '', holder: 'b' },
});

describe('colours by the state of links', () => {
  it('are those of the link that brought a row in; what lives in its parent’s file goes with that', () => {
    const { colours, legend } = coloursByLink([
      row(-1, null),
      row(0, 'sound'),
      row(0, 'behind'),
      row(2, null),
      row(0, 'missing'),
    ]);
    expect(colours.has(0)).toBe(false);
    expect(colours.get(3)).toBe(colours.get(2));
    expect(new Set([1, 2, 4].map((n) => colours.get(n))).size).toBe(3);
    expect(legend.map(([words]) => words)).toEqual(['1 sound', '1 behind', '1 missing, not on the model']);
  });
});
