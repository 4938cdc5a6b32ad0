import { describe, expect, it } from 'vitest';
import { filterFor } from './filter-rows';

const ROWS = [
  { path: 'parts/lid.stp', broken: false, bytes: 900 },
  { path: 'parts/broken lamp.stp', broken: false, bytes: 2_500_000 },
  { path: 'unit.stp', broken: true, bytes: 40_000 },
];
const paths = (typed: string) => {
  const fits = filterFor<(typeof ROWS)[number]>(typed, {
    texts: ({ path }) => [path],
    words: { broken: ({ broken }) => broken },
    size: ({ bytes }) => bytes,
  });
  return fits && ROWS.filter(fits).map(({ path }) => path);
};

describe('what fits a filter', () => {
  it('has every word in it, or is what a word says', () => {
    expect(paths('  ')).toBeNull();
    expect(paths('PARTS stp')).toEqual(['parts/lid.stp', 'parts/broken lamp.stp']);
    expect(paths('broken')).toEqual(['parts/broken lamp.stp', 'unit.stp']);
    expect(paths('broken parts')).toEqual(['parts/broken lamp.stp']);
    expect(paths('constructor')).toEqual([]);
  });

  it('is larger or smaller than is said', () => {
    expect(paths('>1MB')).toEqual(['parts/broken lamp.stp']);
    expect(paths('<50kb parts')).toEqual(['parts/lid.stp']);
    expect(paths('>1.5')).toEqual([]);
  });
});
