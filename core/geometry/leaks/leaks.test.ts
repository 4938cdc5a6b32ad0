import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { leaksIn } from './leaks';

/** A file with nothing but what is given, and its header empty. */
const file = (data: string) =>
  Part21File.read(
    Buffer.from(
      `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('','',(''),(''),'','','');\nFILE_SCHEMA(('AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF'));\nENDSEC;\nDATA;\n${data}ENDSEC;\nEND-ISO-10303-21;\n`,
    ),
  );
const kindsIn = (data: string) => leaksIn(file(data)).map(({ kind, examples }) => [kind, examples]);

describe('what can be told from a file', () => {
  it('is no word that every writer puts there', () => {
    const context = (name: string) =>
      `#1=(GEOMETRIC_REPRESENTATION_CONTEXT(2)PARAMETRIC_REPRESENTATION_CONTEXT()REPRESENTATION_CONTEXT('${name}',''));\n#2=DEFINITIONAL_REPRESENTATION('',(),#1);\n#3=PCURVE('',#3,#2);\n`;
    expect(kindsIn(context('2D SPACE'))).toEqual([]);
    expect(kindsIn(context('3d space'))).toEqual([]);
    expect(kindsIn(context('drive of HX-12'))).toEqual([['labels', ['drive of HX-12']]]);
  });

  it('are words in strings of every kind, by where they stand', () => {
    expect(kindsIn(`#1=CARTESIAN_POINT('secret',(0.,0.,0.));\n#2=AXIS1_PLACEMENT('',#1,#2);\n`)).toEqual([
      ['labels', ['secret']],
    ]);
    expect(
      kindsIn(`#1=CARTESIAN_POINT('over the\n end',(0.,0.,0.));\n#2=AXIS1_PLACEMENT('',#1,#2);\n`),
    ).toEqual([['labels', ['over the end']]]);
    expect(kindsIn(`#1=PRODUCT('A-17','Worm','',());\n#2=PRODUCT_DEFINITION_FORMATION('','',#1);\n`)).toEqual(
      expect.arrayContaining([
        ['ids', ['A-17']],
        ['names', ['Worm']],
      ]),
    );
  });
});
