import { describe, expect, it } from 'vitest';
import { findLoops } from './loops';
import { parseWritten, pathProblem, relativePath } from './paths';
import { PathIndex, resolveWritten } from './resolve';

describe('resolving', () => {
  const index = new PathIndex([
    'asm/top.stp',
    'asm/lid.stp',
    'parts/lid.stp',
    'parts/Worm.STP',
    'std/m6.stp',
    'a/dup.stp',
    'b/dup.stp',
    'case/X.stp',
    'case/x.stp',
    '50% #1 "q".stp',
  ]);
  const resolve = (written: string, folders?: string[]) =>
    resolveWritten('asm/top.stp', written, index, folders);

  it.each([
    ['../parts/lid.stp', 'parts/lid.stp'],
    ['..\\PARTS\\LID.stp', 'parts/lid.stp'],
    ['wrong/lid.stp', 'asm/lid.stp'],
    ['worm.stp', 'parts/Worm.STP'],
    ['C:\\Users\\x\\m6.stp', 'std/m6.stp'],
    ['/home/x/m6.stp', 'std/m6.stp'],
    ['https://example.test/m6.stp', 'std/m6.stp'],
    ['file:///C:/x/m6.stp', 'std/m6.stp'],
    ['../../../../m6.stp', 'std/m6.stp'],
    ['../50% #1 "q".stp', '50% #1 "q".stp'],
    ['../case/x.stp', 'case/x.stp'],
  ])('%s -> %s', (written, to) => {
    expect(resolve(written)).toMatchObject({ state: 'sound', to });
  });

  it('prefers search folders over a name found anywhere, in their order', () => {
    expect(resolve('dup.stp')).toMatchObject({
      state: 'ambiguous',
      to: null,
      rivals: ['a/dup.stp', 'b/dup.stp'],
    });
    expect(resolve('dup.stp', ['b', 'a'])).toMatchObject({ state: 'sound', to: 'b/dup.stp' });
  });

  it('is ambiguous between names that differ only in case and are both not exact', () => {
    expect(resolveWritten('asm/top.stp', '../CASE/X.STP', index).state).toBe('ambiguous');
  });

  it.each([
    ['../../etc/passwd', 'leads out of the project'],
    ['/etc/passwd', 'another computer'],
    ['https://example.test/part.stp', 'never fetched'],
    ['gone.stp', 'No file named gone.stp'],
    ['..', 'names no file'],
  ])('%s is missing, and says why', (written, words) => {
    const { state, to, reason } = resolve(written);
    expect({ state, to }).toEqual({ state: 'missing', to: null });
    expect(reason).toContain(words);
  });
});

describe('paths', () => {
  it.each([
    ['a/b.stp', 'a/c/d.stp', 'c/d.stp'],
    ['a/b/c.stp', 'a/d.stp', '../d.stp'],
    ['a.stp', 'b.stp', 'b.stp'],
    ['x/a.stp', 'y/b.stp', '../y/b.stp'],
  ])('from %s to %s: %s', (from, to, expected) => expect(relativePath(from, to)).toBe(expected));

  it.each(['../x', '/x', 'C:/x', 'a//b', 'a/../b', 'a\\b', '', 'a\0b', 'x'.repeat(300), 'a\nb'])(
    'refuses %j',
    (path) => expect(pathProblem(path)).toBeDefined(),
  );
  it.each(['a.stp', 'Gehäuse (1)/50% #.stp', "it's.stp"])('accepts %j', (path) =>
    expect(pathProblem(path)).toBeUndefined(),
  );
  it('takes addresses and drive letters apart', () => {
    expect(parseWritten('\\\\server\\share\\p.stp')).toEqual({
      origin: 'absolute',
      segments: ['server', 'share', 'p.stp'],
    });
    expect(parseWritten('ftp://h/p.stp').origin).toBe('address');
    expect(parseWritten('./a//b/./p.stp/').segments).toEqual(['a', 'b', 'p.stp']);
    expect(parseWritten('a/../.hidden/p.stp').segments).toEqual(['a', '..', '.hidden', 'p.stp']);
    expect(parseWritten('').segments).toEqual([]);
  });
});

describe('loops', () => {
  it('finds each loop, also of one file, and no more', () => {
    const loops = findLoops(
      new Map([
        ['a', ['b']],
        ['b', ['c', 'd']],
        ['c', ['a']],
        ['d', ['d']],
        ['e', ['a']],
      ]),
    );
    expect([...loops.keys()].sort()).toEqual(['a', 'b', 'c', 'd']);
    expect([...loops.get('a')!].sort()).toEqual(['a', 'b', 'c']);
    expect(loops.get('d')).toEqual(['d']);
  });

  it('walks a chain of 100,000 files', () => {
    const chain = new Map(Array.from({ length: 100_000 }, (_, n) => [String(n), [String(n + 1)]]));
    expect(findLoops(chain).size).toBe(0);
  });
});
