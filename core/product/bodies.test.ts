import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { writeBoxPart } from '#core/testing/box-part';
import { isIdentity, transformPoint } from './matrix';
import { readStructure } from './structure';

const bytesOf = (data: string) =>
  new Uint8Array(
    Buffer.from(
      `ISO-10303-21;HEADER;FILE_DESCRIPTION((''),'2;1');FILE_NAME('','',(''),(''),'','','');FILE_SCHEMA(('AP214'));ENDSEC;DATA;${data}ENDSEC;END-ISO-10303-21;`,
      'latin1',
    ),
  );
const structureOf = (data: string) => readStructure(Part21File.read(bytesOf(data)));

/** A product with one representation, numbered from 1 to 9; the context is #9. */
const product = (items: string, unit = '(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))') =>
  `#1=PRODUCT('P','Part','',());#2=PRODUCT_DEFINITION_FORMATION('','',#1);#3=PRODUCT_DEFINITION('design','',#2,#4);#4=PRODUCT_DEFINITION_CONTEXT('part definition',$,'');#5=PRODUCT_DEFINITION_SHAPE('','',#3);#6=SHAPE_DEFINITION_REPRESENTATION(#5,#7);#7=SHAPE_REPRESENTATION('',(${items}),#9);#8=${unit};#9=(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#8))REPRESENTATION_CONTEXT('',''));`;
const axes = (id: number, x: number, y: number, z: number) =>
  `#${id}=AXIS2_PLACEMENT_3D('',#${id + 1},$,$);#${id + 1}=CARTESIAN_POINT('',(${x}.,${y}.,${z}.));`;

describe('bodies', () => {
  it.each([
    ['MANIFOLD_SOLID_BREP', "'a',#99", 'solid'],
    ['BREP_WITH_VOIDS', "'a',#99,(#98)", 'solid'],
    ['FACETED_BREP', "'a',#99", 'solid'],
    ['SHELL_BASED_SURFACE_MODEL', "'a',(#99)", 'surface'],
  ])('are found as %s', (entity, parameters, kind) => {
    const { products } = structureOf(
      `${product('#20')}#20=${entity}(${parameters});#99=CLOSED_SHELL('',());#98=ORIENTED_CLOSED_SHELL('',*,#99,.F.);`,
    );
    expect(products[0]!.bodies).toEqual([{ id: 20, kind, name: 'a', colour: null }]);
  });

  it('are found in a representation that is only related to the product’s own', () => {
    const { products } = structureOf(
      `${product('#30')}${axes(30, 0, 0, 0)}#40=SHAPE_REPRESENTATION_RELATIONSHIP('','',#7,#41);#41=ADVANCED_BREP_SHAPE_REPRESENTATION('',(#42),#9);#42=MANIFOLD_SOLID_BREP('b',#99);`,
    );
    expect(products[0]!.bodies.map(({ id }) => id)).toEqual([42]);
    expect(products[0]!.bodies[0]!.placement).toBeUndefined();
  });

  it('are placed by a relationship with a transformation', () => {
    const { products } = structureOf(
      `${product('#30')}${axes(30, 10, 20, 30)}${axes(32, 1, 2, 3)}#40=(REPRESENTATION_RELATIONSHIP('','',#41,#7)REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#43)SHAPE_REPRESENTATION_RELATIONSHIP());#41=ADVANCED_BREP_SHAPE_REPRESENTATION('',(#42,#32),#9);#42=MANIFOLD_SOLID_BREP('b',#99);#43=ITEM_DEFINED_TRANSFORMATION('','',#32,#30);`,
    );
    expect(transformPoint(products[0]!.bodies[0]!.placement!, [1, 2, 3])).toEqual([10, 20, 30]);
  });

  it('are placed as often as they are mapped, also through two levels and with a scale', () => {
    const { products } = structureOf(
      `${product('#50,#51')}#50=MAPPED_ITEM('',#60,#30);#51=MAPPED_ITEM('',#60,#70);#60=REPRESENTATION_MAP(#32,#61);#61=SHAPE_REPRESENTATION('',(#52),#9);#52=MAPPED_ITEM('',#62,#34);#62=REPRESENTATION_MAP(#32,#63);#63=SHAPE_REPRESENTATION('',(#42),#9);#42=MANIFOLD_SOLID_BREP('b',#99);${axes(30, 100, 0, 0)}${axes(32, 0, 0, 0)}${axes(34, 0, 5, 0)}#70=CARTESIAN_TRANSFORMATION_OPERATOR_3D('','',$,$,#33,2.,$);`,
    );
    const [first, second] = products[0]!.bodies;
    expect(transformPoint(first!.placement!, [1, 1, 1])).toEqual([101, 6, 1]);
    expect(transformPoint(second!.placement!, [1, 1, 1])).toEqual([2, 12, 2]);
  });

  it('survive a map that leads back to itself', () => {
    const { products } = structureOf(
      `${product('#50')}#50=MAPPED_ITEM('',#60,#30);#60=REPRESENTATION_MAP(#30,#61);#61=SHAPE_REPRESENTATION('',(#50),#9);${axes(30, 0, 0, 0)}`,
    );
    expect(products[0]!.bodies).toEqual([]);
  });
});

describe('units', () => {
  it.each([
    ['(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))', 'mm'],
    ['(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT($,.METRE.))', 'm'],
    ['(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.CENTI.,.METRE.))', 'cm'],
    ['(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MICRO.,.METRE.))', 'µm'],
    ["(CONVERSION_BASED_UNIT('INCH',#80)LENGTH_UNIT()NAMED_UNIT($))", 'in'],
    ["(CONVERSION_BASED_UNIT('FOOT',#82)LENGTH_UNIT()NAMED_UNIT($))", 'ft'],
    ["(CONVERSION_BASED_UNIT('ELL',#83)LENGTH_UNIT()NAMED_UNIT($))", '600 mm'],
    ["(CONVERSION_BASED_UNIT('SELF',#84)LENGTH_UNIT()NAMED_UNIT($))", null],
    ['(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))', null],
  ])('%s is %s', (unit, name) => {
    const measures =
      "#80=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#81);#81=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));#82=MEASURE_WITH_UNIT(LENGTH_MEASURE(12.),#85);#85=(CONVERSION_BASED_UNIT('INCH',#80)LENGTH_UNIT()NAMED_UNIT($));#83=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(600.),#81);#84=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(2.),#8);";
    expect(structureOf(product('', unit) + measures).unit).toBe(name);
  });
});

describe('products', () => {
  it('do without a name, an id or a shape', () => {
    const { products } = structureOf(
      "#1=PRODUCT('','','',());#2=PRODUCT_DEFINITION_FORMATION('','',#1);#3=PRODUCT_DEFINITION('','',#2,$);",
    );
    expect(products).toEqual([
      { definition: 3, id: '', name: '#3', bodies: [], occurrences: [], isEmpty: true },
    ]);
  });

  it('that stand for documents are left out', () => {
    const text = Buffer.from(writeBoxPart({ id: 'REAL' })).toString('latin1');
    const withDocument = text.replace(
      'ENDSEC;\nEND-ISO',
      "#9001=PRODUCT('DOC','Drawing','',());#9002=PRODUCT_DEFINITION_FORMATION('','',#9001);#9003=PRODUCT_DEFINITION('','',#9002,#9004);#9004=PRODUCT_DEFINITION_CONTEXT('physical document definition',$,'');ENDSEC;\nEND-ISO",
    );
    expect(readStructure(Part21File.read(Buffer.from(withDocument))).products.map(({ id }) => id)).toEqual([
      'REAL',
    ]);
  });

  it('placed twice by usage occurrences without a shape stay at the origin', () => {
    const { products } = structureOf(
      `${product('')}#11=PRODUCT('C','C','',());#12=PRODUCT_DEFINITION_FORMATION('','',#11);#13=PRODUCT_DEFINITION('','',#12,#4);#14=NEXT_ASSEMBLY_USAGE_OCCURRENCE('1','one','',#3,#13,$);#15=NEXT_ASSEMBLY_USAGE_OCCURRENCE('2','','',#3,#13,'R2');#16=NEXT_ASSEMBLY_USAGE_OCCURRENCE('3','lost','',#3,#999,$);`,
    );
    expect(products[0]!.occurrences.map(({ name }) => name)).toEqual(['one', 'R2']);
    expect(products[0]!.occurrences.every(({ placement }) => isIdentity(placement))).toBe(true);
  });
});
