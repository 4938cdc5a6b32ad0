import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { foldersOf, isIn } from './folders';

const file = (path: string, missing = 0) => ({
  path,
  links: { sound: 1, behind: 2, missing, ambiguous: 0, loop: 0 },
});

describe('folders', () => {
  it('stand behind the one that they are in, with all that lies in them', () => {
    const rows = foldersOf([
      file('top.stp'),
      file('b/10/x.stp', 2),
      file('b/9/x.stp'),
      file('a.b/y.stp'),
      file('b/z.stp', 1),
    ]);
    expect(rows.map(({ path, depth, files, broken }) => [path, depth, files, broken])).toEqual([
      ['', 0, 5, 3],
      ['a.b', 1, 1, 0],
      ['b', 1, 3, 3],
      ['b/9', 2, 1, 0],
      ['b/10', 2, 1, 2],
    ]);
    expect(rows.map(({ hasFolders }) => hasFolders)).toEqual([true, false, true, false, false]);
  });

  it('hold just the files whose paths begin so, and each is behind its own', () => {
    const paths = fc.array(
      fc.array(fc.constantFrom('a', 'a b', 'ab', 'B', '10', '9'), { minLength: 1, maxLength: 4 }),
      {
        maxLength: 30,
      },
    );
    fc.assert(
      fc.property(paths, (written) => {
        const all = [...new Set(written.map((parts) => `${parts.join('/')}.stp`))];
        const rows = foldersOf(all.map((path) => file(path)));
        for (const [n, { path, files, depth }] of rows.entries()) {
          expect(files).toBe(all.filter((one) => isIn(path, one)).length);
          if (depth === 0) continue;
          const above = rows.slice(0, n).findLast((row) => row.depth < depth)!;
          expect(path.slice(0, Math.max(path.lastIndexOf('/'), 0))).toBe(above.path);
        }
      }),
    );
  });
});
