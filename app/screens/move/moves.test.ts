import { describe, expect, it } from 'vitest';
import { NO_PATTERN } from '#core/name-pattern';
import { foldersOf, movesOf } from './moves';

const PATHS = ['a/bar.v2.stp', 'a/b/lid.stp', 'top.stp'];
const NOTHING = { typed: {}, pattern: NO_PATTERN, folder: null };

describe('where files and folders go', () => {
  it('is nowhere as long as nothing is chosen', () => {
    expect(movesOf(['a/bar.v2.stp', 'a'], PATHS, NOTHING)).toEqual([]);
  });

  it('is a folder, another name by a pattern that leaves endings alone, or what was typed', () => {
    const pattern = { find: 'BAR', replace: 'rod', prefix: 'x-', suffix: '-1' };
    expect(movesOf(['a/bar.v2.stp', 'a/b', 'top.stp'], PATHS, { ...NOTHING, pattern, folder: 'c' })).toEqual([
      { from: 'a/bar.v2.stp', to: 'c/x-rod.v2-1.stp' },
      { from: 'a/b', to: 'c/x-b-1' },
      { from: 'top.stp', to: 'c/x-top-1.stp' },
    ]);
    expect(movesOf(['top.stp'], PATHS, { pattern, folder: 'c', typed: { 'top.stp': 'd/unit.stp' } })).toEqual(
      [{ from: 'top.stp', to: 'd/unit.stp' }],
    );
    expect(movesOf(['a/b/lid.stp'], PATHS, { ...NOTHING, folder: '' })).toEqual([
      { from: 'a/b/lid.stp', to: 'lid.stp' },
    ]);
  });

  it('may be any folder that holds something', () => {
    expect(foldersOf(PATHS)).toEqual(['', 'a', 'a/b']);
  });
});
