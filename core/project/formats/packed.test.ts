import { gunzipSync, gzipSync } from 'node:zlib';
import fc from 'fast-check';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { contentOf, withContents, zipParts } from '#core/files/archive/zip-parts';
import { withMaterial } from '#core/product/write-material';
import { Draft } from '#core/project/change/draft';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanContent } from '#core/project/scan/content';
import { scanFileSet } from '#core/project/scan/scan';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { readLinks, rewriteLinks } from './formats';

const assembly = testAssembly('TOP', [{ written: 'parts/lid.stp', id: 'LID', times: 2 }]);
const lid = writeBoxPart({ id: 'LID' });

describe('entries of a zip in memory', () => {
  const name = fc
    .string({ minLength: 1, maxLength: 9 })
    .filter((text) => /^[\w.-]+$/.test(text) && text !== '__proto__');
  const contents = fc.dictionary(name, fc.uint8Array({ maxLength: 300 }), { minKeys: 1, maxKeys: 6 });

  it('can be given other contents, in any order, and all else stays as it was', () => {
    fc.assert(
      fc.property(contents, fc.nat(), fc.uint8Array({ maxLength: 500 }), (before, which, content) => {
        const zip = zipSync(before, { level: 6 });
        const names = Object.keys(before);
        const changed = names[which % names.length]!;
        const after = withContents(zip, new Map([[changed, content]]));
        expect(unzipSync(after)).toEqual({ ...before, [changed]: content });
        const raw = (bytes: Uint8Array, path: string) => {
          const part = zipParts(bytes).find((one) => one.path === path)!;
          return Buffer.from(bytes.subarray(part.content, part.content + part.packed)).toString('hex');
        };
        for (const path of names) if (path !== changed) expect(raw(after, path)).toBe(raw(zip, path));
      }),
      { numRuns: 100 },
    );
  });

  it('are refused where the zip is cut off, lies over itself, or unpacks to too much', () => {
    const zip = zipSync({ 'a.txt': new Uint8Array(200_000) });
    expect(() => zipParts(zip.subarray(0, zip.length - 30))).toThrow('cut off');
    expect(() => contentOf(zip, zipParts(zip)[0]!, 100_000)).toThrow('a.txt in the zip unpacks to more than');
    const broken = Buffer.from(zip);
    broken.writeUInt32LE(0x12345678, zipParts(zip)[0]!.record);
    expect(() => zipParts(broken)).toThrow(/^Byte \d+: expected entry 1/);
  });
});

describe('a packed STEP file', () => {
  const forms: [string, (content: Uint8Array) => Uint8Array, (bytes: Uint8Array) => Uint8Array][] = [
    ['a gzip', (content) => gzipSync(content), (bytes) => gunzipSync(bytes)],
    [
      'a zip of one file',
      (content) => zipSync({ 'top.stp': content }),
      (bytes) => unzipSync(bytes)['top.stp']!,
    ],
    [
      'an archive of edition 3',
      (content) => zipSync({ 'ISO_10303.p21': content, 'parts/inside.stp': lid, 'note.txt': strToU8('x') }),
      (bytes) => unzipSync(bytes)['ISO_10303.p21']!,
    ],
  ];

  it.each(forms)('is read as what it holds, and links are written anew inside: %s', (_, pack, unpack) => {
    const bytes = pack(assembly);
    const scan = scanContent('top.stpz', bytes);
    expect(scan).toMatchObject({ format: 'step', role: 'assembly', error: null });
    expect(scan.links).toEqual(scanContent('top.stp', assembly).links);
    const retarget = { kind: 'component', written: 'parts/lid.stp', to: 'other/lid 2.stp' } as const;
    const after = rewriteLinks(bytes, 'top.stpz', [retarget]).bytes;
    const plain = rewriteLinks(assembly, 'top.stp', [retarget]).bytes;
    expect(Buffer.from(unpack(after)).equals(plain)).toBe(true);
  });

  it('leaves out links to files of its own archive', () => {
    const bytes = zipSync({ 'ISO_10303.p21': assembly, 'parts/lid.stp': lid });
    expect(readLinks('top.stpz', bytes)).toEqual([]);
  });

  it('stays packed when its text is changed, and follows a part that moves', async () => {
    const files = new MemoryFileSet([
      ['top.stpz', gzipSync(assembly)],
      ['parts/lid.stp', lid],
    ]);
    const project = await scanFileSet(files);
    expect(project.links).toMatchObject([{ to: 'parts/lid.stp', occurrences: 2 }]);
    const draft = new Draft(files, project);
    const { definition } = project.files.get('top.stpz')!.scan.products[0]!;
    await draft.edit('top.stpz', (bytes) =>
      withMaterial(bytes, [definition], { name: 'Steel', density: null }),
    );
    await draft.move('parts/lid.stp', 'covers/lid.stp');
    const { changes } = await draft.finish('moved');
    await files.apply({ summary: '', changes, rewires: [], warnings: [] });
    const after = await scanFileSet(files);
    expect(after.links).toMatchObject([{ to: 'covers/lid.stp', written: 'covers/lid.stp', state: 'sound' }]);
    expect(after.files.get('top.stpz')!.scan.products[0]!.material).toBe('Steel');
    expect(
      gunzipSync(await files.read('top.stpz'))
        .subarray(0, 13)
        .toString(),
    ).toBe('ISO-10303-21;');
  });

  it.each([
    ['a gzip that is cut off', gzipSync(assembly).subarray(0, 200), /^It cannot be unpacked/],
    [
      'a zip without one',
      zipSync({ 'a.txt': strToU8('a'), 'b.txt': strToU8('b') }),
      /^The zip holds no STEP file/,
    ],
    ['a zip of several', zipSync({ 'a.stp': lid, 'b.stp': lid }), /^The zip holds 2 STEP files/],
    ['a bomb', gzipSync(Buffer.alloc(40_000_000)), /^Unpacked, it is larger than/],
  ])('says what is wrong with %s', (_, bytes, words) => {
    expect(scanContent('x.stpz', bytes).error).toMatch(words);
  });
});

describe('appearances of a library', () => {
  it('are links to the file that holds them, once, and are written anew in place', () => {
    const text = Buffer.from(lid)
      .toString('latin1')
      .replace(
        'ENDSEC;\nEND-ISO',
        "#9001=EXTERNAL_SOURCE(IDENTIFIER('looks/paint.xml'));\n#9002=EXTERNALLY_DEFINED_STYLE(IDENTIFIER('red'),#9001);\n#9003=EXTERNALLY_DEFINED_COLOUR('blue',#9001);\nENDSEC;\nEND-ISO",
      );
    expect(readLinks('a.stp', Buffer.from(text))).toMatchObject([
      { kind: 'resource', written: 'looks/paint.xml' },
    ]);
    const retarget = { kind: 'resource', written: 'looks/paint.xml', to: 'lib/größe.xml' } as const;
    const after = rewriteLinks(Buffer.from(text), 'a.stp', [retarget]).bytes;
    expect(Buffer.from(after).toString()).toBe(
      text.replace('looks/paint.xml', 'lib/gr\\X2\\00F600DF\\X0\\e.xml'),
    );
  });
});

describe('instances that stand in other files', () => {
  const file = `ISO-10303-21;
HEADER;
FILE_DESCRIPTION((''),'4;1');
FILE_NAME('a','2026-01-01T00:00:00',(''),(''),'','','');
FILE_SCHEMA(('AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF'));
ENDSEC;
ANCHOR;
<lid;1>=#3;
ENDSEC;
REFERENCE;
#10=<parts/lid%20a.stp#lid;1>;
#11=<#own>;
@12=<parts/lid%20a.stp#v>;
#13=<https://example.invalid/x.stp#y>;
ENDSEC;
DATA;
#1=APPLICATION_CONTEXT('x');
#3=PRODUCT_CONTEXT('',#10,'mechanical');
ENDSEC;
END-ISO-10303-21;
`;

  it('are links, each file once, and are not missing', () => {
    const scan = scanContent('a.stp', Buffer.from(file));
    expect(scan).toMatchObject({ error: null, damage: null });
    expect(scan.links).toMatchObject([{ kind: 'resource', written: 'parts/lid a.stp', definitions: [] }]);
    const lost = scanContent('a.stp', Buffer.from(file.replace("'',#10", "'',#99")));
    expect(lost.damage).toContain('#3 (PRODUCT_CONTEXT) refers to #99');
  });

  it('are written anew as URIs, behind which what is meant stays', () => {
    const to = 'größe/x;y#1.stp';
    const after = rewriteLinks(Buffer.from(file), 'a.stp', [
      { kind: 'resource', written: 'parts/lid a.stp', to },
    ]);
    const text = Buffer.from(after.bytes).toString();
    expect(text).toContain('#10=<gr%C3%B6%C3%9Fe/x%3By%231.stp#lid;1>;');
    expect(text).toContain('@12=<gr%C3%B6%C3%9Fe/x%3By%231.stp#v>;');
    expect(readLinks('a.stp', after.bytes)).toMatchObject([{ written: to }]);
    const back = rewriteLinks(after.bytes, 'a.stp', [
      { kind: 'resource', written: to, to: 'parts/lid a.stp' },
    ]);
    expect(Buffer.from(back.bytes).toString()).toBe(file);
  });
});

describe('3MF', () => {
  const types = strToU8('<?xml version="1.0"?><Types/>');
  const rels = (inside: string) =>
    strToU8(
      `<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${inside}</Relationships>`,
    );
  const model = (inside: string) =>
    strToU8(
      `<model xmlns:p="http://schemas.microsoft.com/3dmanufacturing/production/2015/06">${inside}</model>`,
    );
  const whole = {
    '[Content_Types].xml': types,
    '_rels/.rels': rels(
      '<Relationship Target="/3D/3dmodel.model" Id="r0" Type="t"/><Relationship Id="r1" Type="t" TargetMode="External" Target="../docs/data%20sheet.pdf#p2"/>',
    ),
    '3D/3dmodel.model': model('<build><item objectid="1" p:path="/3D/lid.model"/></build>'),
    '3D/lid.model': model('<texture2d id="2" path="/3D/Textures/a.png"/>'),
    '3D/Textures/a.png': new Uint8Array([1, 2, 3]),
    '3D/_rels/3dmodel.model.rels': rels('<Relationship Target="Textures/a.png" Id="r0" Type="t"/>'),
  };

  it('leads to files outside of its package only where it says so', () => {
    const bytes = zipSync(whole);
    expect(scanContent('x.3mf', bytes)).toMatchObject({
      format: '3mf',
      role: 'mesh',
      error: null,
      damage: null,
    });
    expect(readLinks('x.3mf', bytes).map(({ kind, written }) => [kind, written])).toEqual([
      ['attachment', '../docs/data sheet.pdf'],
    ]);
    const to = 'papers/größe.pdf';
    const after = rewriteLinks(bytes, 'x.3mf', [
      { kind: 'attachment', written: '../docs/data sheet.pdf', to },
    ]).bytes;
    expect(readLinks('x.3mf', after).map(({ written }) => written)).toEqual([to]);
    const there = unzipSync(after);
    expect(Buffer.from(there['_rels/.rels']!).toString()).toContain('Target="papers/gr%C3%B6%C3%9Fe.pdf#p2"');
    expect({ ...there, '_rels/.rels': null }).toEqual({ ...whole, '_rels/.rels': null });
  });

  it.each([
    [
      'lacks a texture',
      { ...whole, '3D/Textures/a.png': undefined },
      /^It lacks 3D\/Textures\/a.png, which .* refers to and 1 more/,
    ],
    [
      'has parts in a circle',
      { ...whole, '3D/lid.model': model('<component p:path="/3D/3dmodel.model"/>') },
      /^Its parts refer to each other in a circle: 3D\/3dmodel.model > 3D\/lid.model > 3D\/3dmodel.model/,
    ],
  ])('is damaged when it %s', (_, entries, words) => {
    const there = Object.fromEntries(
      Object.entries(entries).filter(([, content]) => content),
    ) as typeof whole;
    expect(scanContent('x.3mf', zipSync(there)).damage).toMatch(words);
  });

  it('says that it is a bomb, and that it is no zip', () => {
    const bomb = zipSync({ ...whole, '_rels/.rels': new Uint8Array(20_000_000) });
    expect(scanContent('x.3mf', bomb).error).toMatch(
      /^_rels\/.rels in the zip unpacks to more than the 8 MB/,
    );
    expect(scanContent('x.3mf', lid).error).toMatch(/^It is no zip/);
  });
});
