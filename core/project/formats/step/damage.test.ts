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
