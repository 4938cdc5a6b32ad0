import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { lighterWithin, namesIn } from './proof';

const file = (name: string, comment = '') =>
  Part21File.read(
    Buffer.from(
      `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('','',(''),(''),'','','');\nFILE_SCHEMA(('AP242'));\nENDSEC;\nDATA;\n${comment}\n#1=MANIFOLD_SOLID_BREP('${name}',#2);\n#2=CLOSED_SHELL('',());\nENDSEC;\nEND-ISO-10303-21;\n`,
    ),
  );
const found = (name: string, comment?: string, own = 'part') =>
  namesIn(file(name, comment), new Set(['SOLID', 'Welle']), own);

describe('names in a sealed file', () => {
  it('are those in its strings and comments, and no keyword of the standard', () => {
    expect(found('')).toEqual([]);
    expect(found('solid 3')).toEqual(['SOLID']);
    expect(found('', '/* Welle, neu */')).toEqual(['Welle']);
    expect(found('Welle 2')).toEqual(['Welle']);
    // What the file may call itself is no find.
    expect(found('Welle 2', '', 'Welle 2')).toEqual([]);
  });
});

describe('a solid of many facets', () => {
  it('says how far they would lie off if they were few', () => {
    expect(lighterWithin(3000, 0.1)).toBeNull();
    expect(lighterWithin(23_514, 0.1)).toBe(0.79);
    expect(lighterWithin(3001, 0.1)).toBe(0.11);
    expect(lighterWithin(300_000, 1)).toBe(100);
  });
});
