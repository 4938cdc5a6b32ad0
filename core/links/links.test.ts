import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/part21/file';
import { IDENTITY } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import type { ReferenceForm } from '#core/product/write-components';
import { findLoops } from './loops';
import { parseWritten, pathProblem, relativePath } from './paths';
import { PathIndex, resolveWritten } from './resolve';
import { rewriteLinks } from './rewrite';
import { readStepLinks } from './step';

const assembly = (written: string[], referenceForm?: ReferenceForm) =>
  writeAssembly({
    id: 'A',
    name: 'Assembly',
    fileName: 'a.stp',
    timeStamp: '',
    referenceForm,
    components: written.map((path, n) => ({
      id: `C-${n}`,
      name: `Component ${n}`,
      written: path,
      placings: [{ name: '', placement: IDENTITY }],
    })),
  });
const linksOf = (bytes: Uint8Array) => readStepLinks(Part21File.read(bytes));

const FORMS: ReferenceForm[] = [
  'identification',
  'document id',
  'source',
  'folder and name',
  'document',
  'associated',
];

describe('reading STEP links', () => {
  it.each(FORMS)('finds the path and the component it stands for: %s', (form) => {
    const links = linksOf(assembly(['parts/lid.stp', 'parts/worm (copy) 100%#é.stp'], form));
    expect(links.map(({ kind, written }) => [kind, written])).toEqual([
      ['component', 'parts/lid.stp'],
      ['component', 'parts/worm (copy) 100%#é.stp'],
    ]);
    for (const { definitions } of links) expect(definitions).toHaveLength(1);
  });

  it('makes one link of references that are written alike', () => {
    const links = linksOf(assembly(['lid.stp', 'lid.stp']));
    expect(links).toHaveLength(1);
    expect(links[0]!.definitions).toHaveLength(2);
  });

  it('knows data sheets and drawings from components', () => {
    expect(linksOf(assembly(['lid.pdf']))[0]!.kind).toBe('attachment');
  });
});

describe('rewriting STEP links', () => {
  it.each(FORMS)('writes the new path where the old one stood, and only there: %s', (form) => {
    const before = assembly(['parts/lid.stp', 'parts/worm.stp'], form);
    const { bytes } = rewriteLinks(before, 'asm/a.stp', [
      { kind: 'component', written: 'parts/lid.stp', to: 'parts/new/lid_rev-b.stp' },
    ]);
    expect(linksOf(bytes).map(({ written }) => written)).toEqual([
      '../parts/new/lid_rev-b.stp',
      'parts/worm.stp',
    ]);
    const back = rewriteLinks(bytes, 'x.stp', [
      { kind: 'component', written: '../parts/new/lid_rev-b.stp', to: 'parts/lid.stp' },
    ]).bytes;
    expect(Buffer.from(back).equals(Buffer.from(before))).toBe(true);
  });

  it('keeps backslashes where the file uses them', () => {
    const { bytes, rewritten } = rewriteLinks(assembly(['C:\\work\\lid.stp']), 'a.stp', [
      { kind: 'component', written: 'C:\\work\\lid.stp', to: 'parts/lid.stp' },
    ]);
    expect(rewritten).toEqual(['parts\\lid.stp']);
    expect(linksOf(bytes)[0]!.written).toBe('parts\\lid.stp');
  });

  it('refuses a link that the file does not hold', () => {
    expect(() =>
      rewriteLinks(assembly(['lid.stp']), 'a.stp', [
        { kind: 'component', written: 'other.stp', to: 'x.stp' },
      ]),
    ).toThrow('no link to other.stp');
  });
});

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
