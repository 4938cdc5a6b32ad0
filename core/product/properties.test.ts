import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { writeBoxPart } from '#core/testing/box-part';
import { readStructure } from './structure';

/** A part with more records, in which <DEF> stands for its definition. */
function productWith(records: string) {
  const text = Buffer.from(writeBoxPart({ id: 'P' })).toString('latin1');
  const definition = /#(\d+)=PRODUCT_DEFINITION\(/.exec(text)![1]!;
  const filled = records.replaceAll('<DEF>', `#${definition}`);
  const bytes = Buffer.from(text.replace('ENDSEC;\nEND-ISO', `${filled}\nENDSEC;\nEND-ISO`), 'latin1');
  return readStructure(Part21File.read(bytes)).products[0]!;
}

const UNITS = `#9001=(MASS_UNIT()NAMED_UNIT(*)SI_UNIT($,.GRAM.));
#9002=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.CENTI.,.METRE.));
#9003=DERIVED_UNIT_ELEMENT(#9001,1.);
#9004=DERIVED_UNIT_ELEMENT(#9002,-3.);
#9005=DERIVED_UNIT((#9003,#9004));
#9006=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));
#9007=DERIVED_UNIT((#9003));
`;
const property = (
  name: string,
  representation: string,
  items: string,
) => `#9100=PROPERTY_DEFINITION('${name}','',<DEF>);
#9101=PROPERTY_DEFINITION_REPRESENTATION(#9100,#9102);
#9102=REPRESENTATION('${representation}',(${items}),$);
`;

describe('what a file says of a part besides its shape', () => {
  it('is kept in words and as measures with their units', () => {
    const { properties } = productWith(
      `${UNITS}${property('user data', '', '#9110,#9111,#9112,#9113')}
#9110=DESCRIPTIVE_REPRESENTATION_ITEM('Supplier','invented');
#9111=MEASURE_REPRESENTATION_ITEM('Length',LENGTH_MEASURE(12.5),#9006);
#9112=(LENGTH_MEASURE_WITH_UNIT()MEASURE_REPRESENTATION_ITEM()MEASURE_WITH_UNIT(LENGTH_MEASURE(3.),#9002)REPRESENTATION_ITEM('Width'));
#9113=MEASURE_REPRESENTATION_ITEM('',COUNT_MEASURE(4.),$);`,
    );
    expect(properties).toEqual([
      { name: 'Supplier', value: 'invented' },
      { name: 'Length', value: 12.5, unit: 'mm' },
      { name: 'Width', value: 3, unit: 'cm' },
      { name: 'user data', value: 4 },
    ]);
  });

  it('tells the material and its density, in whatever unit it is written', () => {
    const product = productWith(
      `${UNITS}${property('material property', 'density', '#9110,#9111')}
#9110=DESCRIPTIVE_REPRESENTATION_ITEM('','Zinc');
#9111=MEASURE_REPRESENTATION_ITEM('density',POSITIVE_RATIO_MEASURE(7.14),#9005);`,
    );
    expect(product.material).toBe('Zinc');
    expect(product.density).toBeCloseTo(7140, 9);
    expect(product.properties).toBeUndefined();
  });

  it.each([
    ['no unit', '$'],
    ['a unit of something else', '#9006'],
    ['half a unit', '#9007'],
  ])('knows no density with %s', (_, unit) => {
    const product = productWith(
      `${UNITS}${property('material property', 'density', '#9111')}
#9111=MEASURE_REPRESENTATION_ITEM('density',POSITIVE_RATIO_MEASURE(7.14),${unit});`,
    );
    expect(product.density).toBeUndefined();
  });

  it('is no more than people read: neither validation nor ties, and sixty at most', () => {
    const validation = productWith(
      `${property('attribute validation property', '', '#9110')}#9110=DESCRIPTIVE_REPRESENTATION_ITEM('count','3');`,
    );
    expect(validation.properties).toBeUndefined();
    const many = Array.from({ length: 200 }, (_, n) => 9200 + n);
    const crowded = productWith(
      `${property('x', '', many.map((id) => `#${id}`).join(','))}${many
        .map((id) => `#${id}=DESCRIPTIVE_REPRESENTATION_ITEM('n${id}','${'y'.repeat(2000)}');`)
        .join('\n')}`,
    );
    expect(crowded.properties).toHaveLength(60);
    expect(crowded.properties![0]!.value).toHaveLength(500);
  });
});
