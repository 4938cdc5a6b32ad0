import { describe, expect, it } from 'vitest';
import type { PublishedFacts } from '#core/project/change/published-facts';
import { measuresFor } from '../../ui/measures/measures';
import { differences, mountingInWords } from './differences';
import { isOutdated, standingInWords } from './words';

const FACTS: PublishedFacts = { sides: [100, 50, 20], faces: 12, bytes: 1200, mounting: ['Flange'] };
const measures = measuresFor({ length: 'mm', mass: 'by size', decimal: '.', zone: null } as never, 'UTC');

describe('what is offered, held against what it was made from', () => {
  it('says from which version it was made and which is the newest', () => {
    const moved = [{ path: 'a/drive.stp', taken: 3, newest: 5 }];
    expect(standingInWords({ file: 'same', moved: [] })).toBe('up to date');
    expect(standingInWords({ file: 'same', moved })).toBe('made from version 3 of drive.stp, now 5');
    const more = [...moved, { path: 'b.stp', taken: null, newest: 2 }];
    expect(standingInWords({ file: 'newer', moved: more })).toBe(
      'made from version 3 of drive.stp, now 5, and 1 file more',
    );
    expect(standingInWords({ file: 'same', moved: more.slice(1) })).toBe(
      'made from an older version of b.stp, now 2',
    );
    expect(standingInWords({ file: 'newer', moved: [] })).toBe('its file was made again since');
    expect(standingInWords({ file: 'gone', moved })).toBe('its file is no longer in the project');
    const gone = [{ path: 'a/drive.stp', taken: 3, newest: null }];
    expect(standingInWords({ file: 'same', moved: gone })).toContain('is gone');
  });

  it('can be renewed where there is something newer', () => {
    const moved = (newest: number | null) => [{ path: 'a', taken: 1, newest }];
    expect(isOutdated({ file: 'same', moved: [] })).toBe(false);
    expect(isOutdated({ file: 'same', moved: moved(2) })).toBe(true);
    expect(isOutdated({ file: 'same', moved: moved(null) })).toBe(false);
    expect(isOutdated({ file: 'newer', moved: [] })).toBe(true);
    expect(isOutdated({ file: 'gone', moved: moved(2) })).toBe(false);
  });
});

describe('the difference since what was published', () => {
  it('is told for all that the page says', () => {
    const after: PublishedFacts = {
      ...FACTS,
      faces: 14,
      partNumber: 'AD-12',
      mounting: [{ name: 'Flange', size: '8 holes ⌀ 9 on ⌀ 80' }],
    };
    const told = differences(FACTS, after, measures);
    expect(
      told.filter(({ isSame }) => !isSame).map(({ name, before, after }) => [name, before, after]),
    ).toEqual([
      ['Faces', '12', '14'],
      ['Mounted by', 'Flange', 'Flange: 8 holes ⌀ 9 on ⌀ 80'],
      ['Part number', 'none', 'AD-12'],
    ]);
    expect(mountingInWords({ mounting: [] })).toBe('not said');
  });
});
