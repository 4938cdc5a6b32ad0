import { describe, expect, it } from 'vitest';
import { readPaths, writePaths } from './paths-in-address';

describe('paths in an address', () => {
  it('come back as they were, whatever stands in them', () => {
    const paths = ['a,b/c d.stp', 'Gehäuse "links".stp', '../[x].stp'];
    expect([...readPaths(writePaths(paths))]).toEqual(paths);
  });

  it('are none where the address says something else', () => {
    for (const text of [null, '', '{', '5', '[1]', '"a"', '[["a"]]']) expect(readPaths(text).size).toBe(0);
  });
});
