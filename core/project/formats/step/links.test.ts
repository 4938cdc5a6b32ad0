import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { IDENTITY } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import type { ReferenceForm } from '#core/product/write-components';
import { readStepLinks } from './links';
import { rewriteStepLinks } from './rewrite';

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
    const { bytes } = rewriteStepLinks(before, 'asm/a.stp', [
      { kind: 'component', written: 'parts/lid.stp', to: 'parts/new/lid_rev-b.stp' },
    ]);
    expect(linksOf(bytes).map(({ written }) => written)).toEqual([
      '../parts/new/lid_rev-b.stp',
      'parts/worm.stp',
    ]);
    const back = rewriteStepLinks(bytes, 'x.stp', [
      { kind: 'component', written: '../parts/new/lid_rev-b.stp', to: 'parts/lid.stp' },
    ]).bytes;
    expect(Buffer.from(back).equals(Buffer.from(before))).toBe(true);
  });

  it('keeps backslashes where the file uses them', () => {
    const { bytes, rewritten } = rewriteStepLinks(assembly(['C:\\work\\lid.stp']), 'a.stp', [
      { kind: 'component', written: 'C:\\work\\lid.stp', to: 'parts/lid.stp' },
    ]);
    expect(rewritten).toEqual(['parts\\lid.stp']);
    expect(linksOf(bytes)[0]!.written).toBe('parts\\lid.stp');
  });

  it('refuses a link that the file does not hold', () => {
    expect(() =>
      rewriteStepLinks(assembly(['lid.stp']), 'a.stp', [
        { kind: 'component', written: 'other.stp', to: 'x.stp' },
      ]),
    ).toThrow('no link to other.stp');
  });
});
