import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { scanContent } from '#core/project/scan/content';
import { readLinks, rewriteLinks } from './formats';

const linksOf = (path: string, bytes: Uint8Array) =>
  readLinks(path, bytes).map(({ kind, written }) => [kind, written]);

/** Groups as a drawing in text has them. */
const asText = (groups: readonly (readonly [number, string | number])[], lineEnd = '\r\n') =>
  groups.map(([code, value]) => `${String(code).padStart(3)}${lineEnd}${value}${lineEnd}`).join('');

/** The same in the binary form, with codes of two bytes. */
function asBinary(groups: readonly (readonly [number, string | number])[]): Buffer {
  const mark = Buffer.from('DRAWING Binary DXF\r\n\u001a\u0000', 'latin1');
  return Buffer.concat([
    mark,
    ...groups.flatMap(([code, value]) => {
      const head = Buffer.alloc(2);
      head.writeInt16LE(code);
      if (typeof value === 'string') return [head, Buffer.from(`${value}\0`, 'latin1')];
      const number = Buffer.alloc(code < 60 ? 8 : 2);
      if (code < 60) number.writeDoubleLE(value);
      else number.writeInt16LE(value);
      return [head, number];
    }),
  ]);
}

const drawing = (version: string, page: string, model: string) =>
  [
    [0, 'SECTION'],
    [2, 'HEADER'],
    [9, '$ACADVER'],
    [1, version],
    [9, '$DWGCODEPAGE'],
    [3, page],
    [9, '$CUSTOMPROPERTYTAG'],
    [1, 'Title'],
    [9, '$CUSTOMPROPERTY'],
    [1, 'no.stp'],
    [9, '$CUSTOMPROPERTYTAG'],
    [1, 'dcterms:references'],
    [9, '$CUSTOMPROPERTY'],
    [1, model],
    [0, 'ENDSEC'],
    [0, 'SECTION'],
    [2, 'BLOCKS'],
    [0, 'BLOCK'],
    [2, 'inside'],
    [70, 0],
    [10, 1.5],
    [1, 'not-outside.dxf'],
    [0, 'ENDBLK'],
    [0, 'BLOCK'],
    [1, 'frames\\frame a3.dxf'],
    [2, 'frame'],
    [70, 4],
    [0, 'ENDBLK'],
    [0, 'BLOCK'],
    [70, 8],
    [1, 'overlay.dxf'],
    [0, 'ENDBLK'],
    [0, 'ENDSEC'],
    [0, 'SECTION'],
    [2, 'OBJECTS'],
    [0, 'IMAGEDEF'],
    [1, 'img/photo.png'],
    [10, 640],
    [0, 'PDFDEFINITION'],
    [1, 'sheet.pdf'],
    [2, '1'],
    [0, 'ENDSEC'],
    [0, 'EOF'],
  ] as const;

const EXPECTED = (model: string) => [
  ['drawing', model],
  ['resource', 'frames\\frame a3.dxf'],
  ['resource', 'overlay.dxf'],
  ['resource', 'img/photo.png'],
  ['resource', 'sheet.pdf'],
];

describe('DXF', () => {
  it.each(['\r\n', '\n', '\r'])(
    'names blocks from outside, images, underlays and its model (%j)',
    (lineEnd) => {
      const text = Buffer.from(asText(drawing('AC1032', 'ANSI_1252', 'größe.stp'), lineEnd));
      expect(linksOf('x.dxf', text)).toEqual(EXPECTED('größe.stp'));
      expect(scanContent('x.dxf', text)).toMatchObject({ format: 'dxf', role: 'drawing', error: null });
    },
  );

  it('is read in its binary form, too, and stays whole when a path gets longer', () => {
    const bytes = asBinary(drawing('AC1015', 'ANSI_1252', 'a.stp'));
    expect(linksOf('x.dxf', bytes)).toEqual(EXPECTED('a.stp'));
    const to = 'elsewhere/größer.png';
    const after = rewriteLinks(bytes, 'x.dxf', [{ kind: 'resource', written: 'img/photo.png', to }]).bytes;
    expect(linksOf('x.dxf', after).map(([, written]) => written)).toContain(to);
    expect(after.length).toBe(bytes.length + to.length - 'img/photo.png'.length);
    for (const cut of [23, 60, bytes.length - 9])
      expect(scanContent('x.dxf', bytes.subarray(0, cut)).error).toMatch(/^Byte \d+: it ends in the middle/);
  });

  it('says characters beyond its code page in its own way', () => {
    const bytes = Buffer.from(asText(drawing('AC1015', 'ANSI_1251', 'a.stp')), 'latin1');
    const to = 'вал/歯 ü.stp';
    const after = rewriteLinks(bytes, 'x.dxf', [{ kind: 'drawing', written: 'a.stp', to }]).bytes;
    const text = Buffer.from(after).toString('latin1');
    expect(text).toContain('\xe2\xe0\xeb/\\U+6B6F \\U+00FC.stp');
    expect(linksOf('x.dxf', after)[0]).toEqual(['drawing', to]);
  });

  it.each([
    ['no DXF', 'something else\n', /^Line 1: this is no DXF/],
    ['a code that is none', '0\nSECTION\nx\ny\n', /^Line 3, column 1: expected a group code/],
    ['a value that is missing', '0\nSECTION\n2\n', /^Line 3: it ends behind the group code 2/],
  ])('says what is wrong with %s', (_, text, words) => {
    expect(scanContent('x.dxf', Buffer.from(text)).error).toMatch(words);
  });
});

describe('HTML', () => {
  const page = [
    '<!doctype html><html><head><link rel=stylesheet href=styles/report.css>',
    '<script>var a = "<img src=no.png>"</script><style>b{background:url(no2.png)}</style>',
    '</head><body><IMG SRC="img/a%20b.png" srcset="img/a.png 1x, img/b,c.png 2x">',
    '<a href="../model.stp?v=1#top">m</a><a href="https://example.invalid/x.png">web</a>',
    "<a href='#here'>here</a><video poster='p&amp;q.jpg' src=''></video>",
    '<object data="sheet.pdf"></object><!-- <img src="no3.png"> --></body></html>',
  ].join('\n');
  const expected = [
    ['resource', 'styles/report.css'],
    ['resource', 'img/a b.png'],
    ['resource', 'img/a.png'],
    ['resource', 'img/b,c.png'],
    ['attachment', '../model.stp'],
    ['resource', 'p&q.jpg'],
    ['resource', 'sheet.pdf'],
  ];

  it('names what it shows and what it points at, and nothing in scripts, comments or on the web', () => {
    expect(linksOf('r.html', Buffer.from(page))).toEqual(expected);
    const wide = Buffer.from(`\ufeff${page}`, 'utf16le');
    expect(linksOf('r.htm', wide)).toEqual(expected);
  });

  it('names nothing where all its addresses begin elsewhere', () => {
    const based = page.replace('<head>', '<head><base href="https://example.invalid/">');
    expect(linksOf('r.html', Buffer.from(based))).toEqual([]);
  });

  it('keeps what stands behind a path, quoted or not', () => {
    const rewrite = (written: string, to: string, kind: 'resource' | 'attachment') =>
      Buffer.from(rewriteLinks(Buffer.from(page), 'r.html', [{ kind, written, to }]).bytes).toString();
    expect(rewrite('../model.stp', 'b/größe 1.stp', 'attachment')).toContain(
      '"b/gr%C3%B6%C3%9Fe%201.stp?v=1#top"',
    );
    expect(rewrite('styles/report.css', 'my > styles.css', 'resource')).toContain(
      'href=my%20%3E%20styles.css>',
    );
    expect(rewrite('img/b,c.png', 'd, e.png', 'resource')).toContain('img/a.png 1x, d%2C%20e.png 2x');
  });
});

describe('a link in a paper', () => {
  const name = fc
    .string({ minLength: 1, maxLength: 12, unit: 'grapheme' })
    .filter(
      (text) =>
        /^[^\\/\p{C}?#:]+$/u.test(text) && !/^[\s.]|[\s.]$/u.test(text) && text.normalize('NFC') === text,
    );
  const path = fc.array(name, { minLength: 1, maxLength: 3 }).map((names) => names.join('/'));
  const files: readonly [string, Buffer, 'drawing' | 'resource', string][] = [
    ['x.dxf', Buffer.from(asText(drawing('AC1032', 'ANSI_1252', 'a.stp'))), 'drawing', 'a.stp'],
    ['x.dxf', Buffer.from(asText(drawing('AC1009', 'ANSI_932', 'a.stp')), 'latin1'), 'drawing', 'a.stp'],
    ['x.dxf', asBinary(drawing('AC1015', 'ANSI_1252', 'a.stp')), 'drawing', 'a.stp'],
    ['x.html', Buffer.from('<p>ä</p><img src=a.png><img alt="" src="b.png">'), 'resource', 'a.png'],
  ];

  it('can be written to any path and back, and no other byte changes', () => {
    fc.assert(
      fc.property(fc.constantFrom(...files), path, ([file, bytes, kind, written], to) => {
        const there = rewriteLinks(bytes, file, [{ kind, written, to }]);
        expect(linksOf(file, there.bytes)).toContainEqual([kind, there.rewritten[0]]);
        expect(there.rewritten[0]).toBe(to);
        const back = rewriteLinks(there.bytes, file, [{ kind, written: to, to: written }]);
        expect(Buffer.from(back.bytes).equals(bytes)).toBe(true);
      }),
      { numRuns: 200 },
    );
  });
});
