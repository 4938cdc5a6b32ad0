import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { scanContent } from '#core/project/scan/content';
import { canHoldLinks, formatOf, keepsFormat, readLinks, rewriteLinks } from './formats';
import type { LinkKind } from './kinds';

const utf8 = (text: string) => Buffer.from(text);
const linksOf = (path: string, bytes: Uint8Array) =>
  readLinks(path, bytes).map(({ kind, written }) => [kind, written]);

/** A GLB around a text of JSON, with a second chunk behind it. */
function glb(json: string): Buffer {
  const text = Buffer.from(json);
  const padded = Buffer.concat([text, Buffer.alloc((4 - (text.length % 4)) % 4, 0x20)]);
  const rest = Buffer.from([8, 0, 0, 0, 0x42, 0x49, 0x4e, 0, 1, 2, 3, 4, 5, 6, 7, 8]);
  const head = Buffer.alloc(20);
  head.write('glTF', 0, 'latin1');
  head.writeUInt32LE(2, 4);
  head.writeUInt32LE(20 + padded.length + rest.length, 8);
  head.writeUInt32LE(padded.length, 12);
  head.write('JSON', 16, 'latin1');
  return Buffer.concat([head, padded, rest]);
}

describe('OBJ and MTL', () => {
  it('name their libraries and images, with blanks, options, comments and either end of lines', () => {
    const obj =
      '# mtllib no.mtl\r\nmtllib a.mtl control box.mtl sub\\b.MTL\r\nv 0 0 0\r\n  mtllib odd name\n';
    expect(linksOf('x.obj', utf8(obj))).toEqual(
      ['a.mtl', 'control box.mtl', 'sub\\b.MTL', 'odd name'].map((name) => ['resource', name]),
    );
    const mtl = [
      'newmtl x',
      'map_Kd -s 1 1 1 -o 0.5 0 -clamp on name plate.png  ',
      'map_Bump -bm 1.5 -imfchan r bump.png',
      'bump 7',
      'disp -mm 0 1 -t 1 2 3 100%.png',
      'Kd 1 1 1',
      '# map_Kd no.png',
    ].join('\r\n');
    expect(linksOf('x.mtl', utf8(mtl)).map(([, written]) => written)).toEqual([
      'name plate.png',
      'bump.png',
      '7',
      '100%.png',
    ]);
  });

  it('are read and written in their own encoding', () => {
    const latin = Buffer.from('# für\nmtllib größe.mtl\n', 'latin1');
    expect(linksOf('x.obj', latin)).toEqual([['resource', 'größe.mtl']]);
    const anew = (to: string) =>
      rewriteLinks(latin, 'x.obj', [{ kind: 'resource', written: 'größe.mtl', to }]).bytes;
    expect(Buffer.from(anew('maß.mtl')).toString('latin1')).toBe('# für\nmtllib maß.mtl\n');
    expect(() => anew('歯車.mtl')).toThrow('Latin-1');
    for (const swap of [false, true]) {
      const wide = Buffer.from('\ufeffmtllib 歯車.mtl\nv 0 0 0\n', 'utf16le');
      const bytes = swap ? wide.swap16() : wide;
      const moved = rewriteLinks(bytes, 'x.obj', [{ kind: 'resource', written: '歯車.mtl', to: 'm/軸.mtl' }]);
      expect(linksOf('x.obj', moved.bytes)).toEqual([['resource', 'm/軸.mtl']]);
      expect(moved.bytes.length).toBe(bytes.length + 2);
    }
  });

  it('refuse a name that they would read as another', () => {
    const bytes = utf8('mtllib a.mtl\n');
    const to = 'one.mtl two.mtl';
    expect(() => rewriteLinks(bytes, 'x.obj', [{ kind: 'resource', written: 'a.mtl', to }])).toThrow(
      'would read another name',
    );
  });
});

describe('glTF', () => {
  const json = String.raw`{ "asset": {"version": "2.0", "uri": "no"},
    "buffers": [{"uri": "a%20b.bin", "byteLength": 3}, {"uri": "data:application/octet-stream;base64,AAAA"}, {}],
    "images": [{"uri": "texturen/gr\u00fcn.png"}, {"uri": "a b.bin"}, {"bufferView": 0}],
    "extras": {"images": [{"uri": "no.png"}]} }`;
  const expected = ['a b.bin', 'texturen/grün.png'].map((name) => ['resource', name]);

  it('names its buffers and images, by percent-encoded references; what is in place is no link', () => {
    expect(linksOf('x.gltf', utf8(json))).toEqual(expected);
    expect(linksOf('x.glb', glb(json))).toEqual(expected);
    expect(linksOf('x', glb(json))).toEqual(expected);
  });

  it('stays a whole GLB when a reference gets longer or shorter', () => {
    const before = glb(json);
    const to = 'a/much/longer/path/größer 100%.bin';
    const after = Buffer.from(
      rewriteLinks(before, 'x.glb', [{ kind: 'resource', written: 'a b.bin', to }]).bytes,
    );
    expect(after.readUInt32LE(8)).toBe(after.length);
    expect(after.readUInt32LE(12) % 4).toBe(0);
    expect(after.subarray(-16)).toEqual(before.subarray(-16));
    expect(linksOf('x.glb', after).map(([, written]) => written)).toEqual([to, 'texturen/grün.png']);
    const read = JSON.parse(after.subarray(20, 20 + after.readUInt32LE(12)).toString());
    expect(read.images[1].uri).toBe('a/much/longer/path/gr%C3%B6%C3%9Fer%20100%25.bin');
    expect(read.images[0].uri).toBe('texturen/grün.png');
  });

  it.each([
    ['no JSON', utf8('{"buffers": [{"uri": }]}'), /^Line 1, column 22: this is no JSON/],
    [
      'an older version',
      Buffer.concat([utf8('glTF'), Buffer.from([1, 0, 0, 0, 20]), Buffer.alloc(11)]),
      /^It is glTF 1/,
    ],
    ['one that is cut off', glb(json).subarray(0, 100), /^It ends after 100 bytes/],
    ['no chunk of JSON', Buffer.from(glb(json)).fill(0x41, 16, 20), /^Byte 12/],
    ['brackets without an end', utf8('['.repeat(200_000)), /too deep|no JSON/],
  ])('says what is wrong with %s', (_, bytes, words) => {
    expect(scanContent('x.gltf', bytes).error).toMatch(words);
  });
});

describe('SVG', () => {
  const svg = (inside: string, attributes = '') =>
    utf8(`<?xml version="1.0"?>\n<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${inside}</svg>`);
  const terms = 'xmlns:t="http://purl.org/dc/terms/" xmlns:r="http://www.w3.org/1999/02/22-rdf-syntax-ns#"';

  it.each([
    ['as a resource', `<t:references r:resource="../a%20b.stp"/>`],
    ['as text', `<t:references>\n  ../a%20b.stp\n</t:references>`],
    ['as an attribute', `<r:Description t:references="../a%20b.stp"/>`],
    ['as a node', `<t:references><r:Description r:about='../a%20b.stp'/></t:references>`],
  ])('says which model it shows: %s', (_, metadata) => {
    const bytes = svg(`<metadata>${metadata}</metadata>`, terms);
    expect(linksOf('x.svg', bytes)).toEqual([['drawing', '../a b.stp']]);
    const { bytes: after } = rewriteLinks(bytes, 'd/x.svg', [
      { kind: 'drawing', written: '../a b.stp', to: "m/b & 'c'.stp" },
    ]);
    expect(linksOf('x.svg', after)).toEqual([['drawing', "../m/b & 'c'.stp"]]);
    expect(Buffer.from(after).toString().replace('../m/b%20%26%20%27c%27.stp', '../a%20b.stp')).toBe(
      bytes.toString(),
    );
  });

  it('takes images, drawings and style sheets from files, whatever the prefixes are', () => {
    const bytes = utf8(`<?xml-stylesheet type="text/css" href="look.css"?>
      <!DOCTYPE svg [ <!ENTITY folder "images"> ]>
      <s:svg xmlns:s="http://www.w3.org/2000/svg" xmlns:l="http://www.w3.org/1999/xlink">
        <!-- <image href="no.png"/> -->
        <s:style>@import 'print.css'; .a { fill: url(hatch.svg#steel) } .b { fill: url(#own) }</s:style>
        <s:style><![CDATA[ .c { background: url( "cdata.png" ) } ]]></s:style>
        <s:image l:href="&folder;/one&amp;two.png"/><s:image href="data:image/png;base64,AA=="/>
        <s:use href="symbols.svg#weld"/><s:use href='#own'/>
        <s:rect style="fill:url(&quot;quoted.png&quot;)" mask="url(mask.svg#m)" href="https://example.test/a.png"/>
        <s:a href="../parts/lid.stp?x=1"><s:text>url(not.png)</s:text></s:a>
      </s:svg>`);
    expect(linksOf('x.svg', bytes)).toEqual([
      ['resource', 'look.css'],
      ['resource', 'print.css'],
      ['resource', 'hatch.svg'],
      ['resource', 'cdata.png'],
      ['resource', 'images/one&two.png'],
      ['resource', 'symbols.svg'],
      ['resource', 'quoted.png'],
      ['resource', 'mask.svg'],
      ['attachment', '../parts/lid.stp'],
    ]);
    const { bytes: after } = rewriteLinks(bytes, 'x.svg', [
      { kind: 'resource', written: 'symbols.svg', to: 'new (2).svg' },
      { kind: 'resource', written: 'images/one&two.png', to: 'a.png' },
    ]);
    const text = Buffer.from(after).toString();
    expect(text).toContain('"new%20%282%29.svg#weld"');
    expect(text).toContain('l:href="a.png"');
  });

  it('is read when it is not well formed', () => {
    const bytes = utf8(`<image href="a.png"><g></h></image ${'<g a="'.repeat(100)}`);
    expect(linksOf('x.svg', bytes)).toEqual([['resource', 'a.png']]);
  });

  it.each([
    ['brackets', '<g>'],
    ['quotes', '<g a="'],
    ['addresses', '<style>url('],
    ['quoted addresses', 'url("'],
    ['references', '&&'],
  ])('costs no more than its length, however hostile: %s without an end', (_, piece) => {
    const time = (text: string) => {
      const began = performance.now();
      readLinks('x.svg', utf8(`<style>${text}</style>`));
      return performance.now() - began;
    };
    const length = 300_000;
    const hostile = time(piece.repeat(length / piece.length));
    const harmless = time('<g a="b">c</g>'.repeat(length / 14));
    expect(hostile).toBeLessThan(100 * Math.max(harmless, 5));
  });
});

describe('any file', () => {
  it('is of the format that its ending says, or that its bytes say where that says nothing', () => {
    expect(formatOf('a.STEP', utf8(''))).toEqual({ format: 'step', role: 'part' });
    expect(formatOf('a', utf8('ISO-10303-21;'))).toEqual({ format: 'step', role: 'part' });
    expect(formatOf('a.txt', utf8('ISO-10303-21;'))).toEqual({ format: 'text', role: 'document' });
    expect(formatOf('a.xyz', utf8('?'))).toEqual({ format: 'xyz', role: 'other' });
    expect(keepsFormat('a.stp', 'b.STEP') && keepsFormat('a.stp', 'b.xyz') && keepsFormat('b', 'a.glb')).toBe(
      true,
    );
    expect(
      keepsFormat('a.svg', 'b.stp') || keepsFormat('a.svg', 'b.xyz') || keepsFormat('a.stp', 'b.txt'),
    ).toBe(false);
    expect([canHoldLinks('a.xyz'), canHoldLinks('a.png'), canHoldLinks('a.mtl')]).toEqual([
      true,
      false,
      true,
    ]);
  });

  const NAMES = fc
    .array(fc.constantFrom(..."abzÄé歯😀 -_.%#&'()+,;=@!~[]{}$0"), { minLength: 1, maxLength: 12 })
    .map((letters) => letters.join('').trim())
    .filter((name) => name !== '' && !/^\.+$/.test(name));
  const PATHS = fc.array(NAMES, { minLength: 1, maxLength: 3 }).map((names) => names.join('/'));
  const HOLDERS: { [path: string]: { bytes: Buffer; kind: LinkKind; ending: string } } = {
    'h/x.obj': {
      bytes: utf8('# é\r\nmtllib one.mtl\r\nmtllib two.mtl\nv 0 0 0'),
      kind: 'resource',
      ending: '.mtl',
    },
    'h/x.mtl': {
      bytes: utf8('newmtl é\nmap_Kd -o 1 one.png\nbump two.png\n'),
      kind: 'resource',
      ending: '.png',
    },
    'h/x.gltf': {
      bytes: utf8('{"buffers":[{"uri":"one.bin"}],"é":1,"images":[{"uri":"two.bin"}]}'),
      kind: 'resource',
      ending: '.bin',
    },
    'h/x.glb': {
      bytes: glb('{"buffers":[{"uri":"one.bin"}],"images":[{"uri":"two.bin"}]}'),
      kind: 'resource',
      ending: '.bin',
    },
    'h/x.svg': {
      bytes: utf8(
        `<svg xmlns:dcterms="http://purl.org/dc/terms/"><dcterms:references>one.stp</dcterms:references><é/><g dcterms:references='two.stp'/></svg>`,
      ),
      kind: 'drawing',
      ending: '.stp',
    },
  };

  it.each(Object.keys(HOLDERS))('leads where it is told, byte for byte otherwise, and back: %s', (holder) => {
    const { bytes, kind, ending } = HOLDERS[holder]!;
    fc.assert(
      fc.property(PATHS, (path) => {
        const to = `${path}${ending}`;
        const one = `one${ending}`;
        const there = rewriteLinks(bytes, holder, [{ kind, written: one, to }]);
        const [first, second] = readLinks(holder, there.bytes);
        expect([first!.written, second!.written]).toEqual([there.rewritten[0], `two${ending}`]);
        const back = rewriteLinks(there.bytes, holder, [
          { kind, written: there.rewritten[0]!, to: `h/${one}` },
        ]);
        expect(Buffer.from(back.bytes).equals(bytes)).toBe(true);
      }),
      { numRuns: 150 },
    );
  });
});
