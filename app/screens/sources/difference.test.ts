import { describe, expect, it } from 'vitest';
import type { FollowLine } from '#core/jobs/split/newer/outline';
import { USUAL } from '#server/auth/preferences';
import { measuresFor } from '../../ui/measures/measures';
import { differenceInWords as inWords } from './difference';

const differenceInWords = (line: FollowLine) => inWords(line, measuresFor(USUAL, null));

const size = (x: number, y: number, z: number) => ({ volume: x * y * z, sides: [x, y, z] as never });
const line = (parts: Partial<FollowLine>): FollowLine => ({
  change: 'changed',
  component: 'bar.stp',
  older: { id: 1, name: 'bar' },
  newer: { id: 2, name: 'bar' },
  how: 'name',
  confidence: 1,
  before: null,
  now: null,
  way: null,
  kept: null,
  mayBeTaken: true,
  ...parts,
});

describe('the difference of a body', () => {
  it('is told along each axis that changed, and by volume', () => {
    expect(differenceInWords(line({ before: size(10, 10, 60), now: size(10, 10, 66) }))).toBe(
      'z +6 mm, +0.600 cm³',
    );
    expect(differenceInWords(line({ before: size(1600, 40, 40), now: size(1540, 41.5, 40) }))).toBe(
      'x −60 mm, y +1.5 mm, −3.60 cm³',
    );
    // A pocket that was filled.
    expect(
      differenceInWords(line({ before: { ...size(10, 10, 10), volume: 900 }, now: size(10, 10, 10) })),
    ).toBe('+0.100 cm³');
    expect(differenceInWords(line({ before: size(1, 2, 3), now: size(1, 2, 3) }))).toMatch(/not its size/);
  });

  it('is the way that a body went, or that it was only turned', () => {
    expect(differenceInWords(line({ change: 'moved', way: 40 }))).toBe('by 40 mm');
    expect(differenceInWords(line({ change: 'moved', way: 1e-7 }))).toBe('turned');
  });

  it('is the size of what is new or gone', () => {
    expect(differenceInWords(line({ change: 'new', now: size(5, 60, 70) }))).toBe('5 × 60 × 70 mm');
    expect(differenceInWords(line({ change: 'gone', before: size(5, 60, 70) }))).toBe('5 × 60 × 70 mm');
  });

  it('is not told where nothing is different or known', () => {
    expect(differenceInWords(line({ change: 'unchanged', before: size(1, 2, 3), now: size(1, 2, 3) }))).toBe(
      '',
    );
    expect(differenceInWords(line({ before: size(1, 2, 3) }))).toBe('');
    expect(differenceInWords(line({ change: 'moved' }))).toBe('');
    expect(differenceInWords(line({ change: 'gone' }))).toBe('');
  });
});
