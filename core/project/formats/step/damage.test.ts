import { describe, expect, it } from 'vitest';
import { scanContent } from '#core/project/scan/content';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';

const damaged = (bytes: Uint8Array, by: (text: string) => string) => {
  const before = Buffer.from(bytes).toString('latin1');
  const after = by(before);
  expect(after).not.toBe(before);
  return scanContent('x.stp', Buffer.from(after, 'latin1'));
};
const part = () => writeBoxPart({ id: 'P', boxes: [{ name: 'lid' }, { name: 'base', corner: [50, 0, 0] }] });

describe('a file that refers to what is not there', () => {
  it('is read, and says where, how often and what cannot be trusted', () => {
    const scan = damaged(part(), (text) => text.replace(/\n#\d+=PLANE.*/, ''));
    expect(scan.error).toBeNull();
    expect(scan.products[0]!.bodies).toHaveLength(2);
    expect(scan.damage).toMatch(
      /^#\d+ \(ADVANCED_FACE\) refers to #\d+, which is not here\. Not to be trusted: the shape of lid\. Save/,
    );
  });

  it('counts every reference, and names every body', () => {
    const scan = damaged(part(), (text) => text.replace(/=PLANE\('',#\d+\)/g, "=PLANE('',#99999)"));
    expect(scan.damage).toMatch(
      /PLANE\) refers to #99999, which is not here; 11 more references lead nowhere\./,
    );
    expect(scan.damage).toContain('the shape of lid, base');
  });

  it.each([
    [
      /=ITEM_DEFINED_TRANSFORMATION\('','',#\d+/,
      "=ITEM_DEFINED_TRANSFORMATION('','',#99999",
      'where components stand',
    ],
    [/=APPLIED_DOCUMENT_REFERENCE\(#\d+/, '=APPLIED_DOCUMENT_REFERENCE(#99999', 'links to other files'],
    [/=PRODUCT\('C','C','',\(#\d+/, "=PRODUCT('C','C','',(#99999", 'which products there are'],
  ])('says what is about %s', (found, instead, words) => {
    const assembly = testAssembly('A', [{ written: 'c.stp', id: 'C' }]);
    expect(damaged(assembly, (text) => text.replace(found, instead)).damage).toContain(words);
  });

  it('is none when all is there', () => {
    expect(scanContent('x.stp', part()).damage).toBeNull();
  });
});

describe('a file with numbers that nothing can have', () => {
  const pointWith = (written: string) => (text: string) =>
    text.replace(/=CARTESIAN_POINT\('',\([^,]*/, `=CARTESIAN_POINT('',(${written}`);

  it.each(['1.E308', '-2.5E+101', 'NAN', '-nan', 'INF'])(
    'says where, and what cannot be trusted: %s',
    (written) => {
      const scan = damaged(part(), pointWith(written));
      expect(scan.damage).toContain(
        `(CARTESIAN_POINT) holds ${written}, which no size can be. Not to be trusted: `,
      );
      expect(scan.products[0]!.bodies).toHaveLength(2);
    },
  );

  it('counts them, and says of what is missing, too', () => {
    const scan = damaged(part(), (text) =>
      text
        .replace(/\n#\d+=PLANE.*/, '')
        .replaceAll(/=CARTESIAN_POINT\('',\([^,]*/g, "=CARTESIAN_POINT('',(1.E200"),
    );
    expect(scan.damage).toMatch(
      /^#\d+ \(ADVANCED_FACE\) refers to #\d+, which is not here\. #\d+ \(CARTESIAN_POINT\) holds 1\.E200, which no size can be; \d+ more such numbers\. Not to be trusted: the shape of lid, base/,
    );
  });

  it('is none where such words stand in strings, or numbers are only small', () => {
    for (const written of ['1.E-308', '0.E+000'])
      expect(damaged(part(), pointWith(written)).damage).toBeNull();
    expect(damaged(part(), (text) => text.replace("'lid'", "'lid (1.E308,NAN)'")).damage).toBeNull();
  });
});
