import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { writeBoxPart } from '#core/testing/box-part';
import { statedFacts } from './properties';
import { readStructure } from './structure';

/** A part with more records, in which <DEF> and <SHAPE> stand for its definition and its shape, <CTX> for the context of its geometry. */
function withRecords(records: string, unit: 'mm' | 'in' = 'mm'): Part21File {
  const text = Buffer.from(writeBoxPart({ id: 'P', unit })).toString('latin1');
  const idOf = (keyword: string) => new RegExp(`#(\\d+) ?= ?${keyword}\\(`).exec(text)![1]!;
  const context = /#(\d+) ?= ?\([^;]*GLOBAL_UNIT_ASSIGNED_CONTEXT/.exec(text)![1]!;
  const filled = records
    .replaceAll('<DEF>', `#${idOf('PRODUCT_DEFINITION')}`)
    .replaceAll('<SHAPE>', `#${idOf('PRODUCT_DEFINITION_SHAPE')}`)
    .replaceAll('<CTX>', `#${context}`);
  return Part21File.read(
    Buffer.from(text.replace('ENDSEC;\nEND-ISO', `${filled}\nENDSEC;\nEND-ISO`), 'latin1'),
  );
}

const property = (of: string, items: string) => `
#9001=PROPERTY_DEFINITION('geometric_validation_property','',${of});
#9002=REPRESENTATION('',(${items}),<CTX>);
#9003=PROPERTY_DEFINITION_REPRESENTATION(#9001,#9002);`;
const METRES = `
#9010=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT($,.METRE.));
#9011=DERIVED_UNIT_ELEMENT(#9010,3.);
#9012=DERIVED_UNIT((#9011));
#9013=DERIVED_UNIT_ELEMENT(#9010,2.);
#9014=DERIVED_UNIT((#9013));`;
const only = (file: Part21File) =>
  [...statedFacts(file).values()].flatMap(({ size }) => (size ? [size] : []));

describe('what a file states of the size of a part', () => {
  it.each(['<DEF>', '<SHAPE>'])('is read from properties of its %s, in the unit that is written', (of) => {
    const file = withRecords(
      `${METRES}${property(of, '#9020,#9021,#9022')}
#9020=MEASURE_REPRESENTATION_ITEM('volume measure',VOLUME_MEASURE(2.5E-6),#9012);
#9021=(AREA_MEASURE_WITH_UNIT()MEASURE_REPRESENTATION_ITEM()MEASURE_WITH_UNIT(AREA_MEASURE(0.003),#9014)REPRESENTATION_ITEM('area'));
#9022=CARTESIAN_POINT('centroid',(1.,2.,3.));`,
    );
    const [size, ...more] = only(file);
    expect(more).toEqual([]);
    expect(size!.volume).toBeCloseTo(2500, 8);
    expect(size!.area).toBeCloseTo(3000, 8);
    expect(readStructure(file).products[0]!.statedSize).toEqual(size);
  });

  it('is in the unit of its context where it names none', () => {
    const file = withRecords(
      `${property('<DEF>', '#9020')}\n#9020=MEASURE_REPRESENTATION_ITEM('',VOLUME_MEASURE(2.),$);`,
      'in',
    );
    expect(only(file)[0]!.volume).toBeCloseTo(2 * 25.4 ** 3, 6);
  });

  it.each([
    ['nothing', "#9020=MEASURE_REPRESENTATION_ITEM('',VOLUME_MEASURE(0.),$);"],
    ['less', "#9020=MEASURE_REPRESENTATION_ITEM('',VOLUME_MEASURE(-3.),$);"],
    ['what is no measure', "#9020=MEASURE_REPRESENTATION_ITEM('',COUNT_MEASURE(3),$);"],
    ['what is not there', ''],
  ])('is left out where it is %s', (_, item) =>
    expect(only(withRecords(`${property('<DEF>', '#9020')}\n${item}`))).toEqual([]),
  );

  it('is left out of a part that states none', () =>
    expect(readStructure(withRecords('')).products[0]).not.toHaveProperty('statedSize'));
});
