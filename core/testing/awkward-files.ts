import { placementFromAxes } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import type { PlacementForm } from '#core/product/write-components';
import { writeBoxPart } from './box-part';
import { testAssembly } from './projects';

/*
 * One made-up file for each way in which files from the field differ from what one expects, with what has to be read out of it. New
 * readers of this code see here what there is; tests hold scanning to it (awkward-files.test.ts).
 */

/** What a scan has to find; what is left out does not matter for the case. */
export interface Expected {
  /** Names of the products that stand at the top, without stand-ins. */
  roots?: string[];
  products?: { name: string; bodies?: number; material?: string; occurrences?: string[] }[];
  bodies?: number;
  unit?: string | null;
  /** Whether each body is a solid or an open surface. */
  kinds?: ('solid' | 'surface')[];
  /** Colour of each body, and how many of its faces have another. */
  colours?: (readonly [body: string | null, faces: number])[];
  /** Where each occurrence of the file stands, mm. */
  places?: (readonly [number, number, number])[];
  links?: { kind: string; written: string }[];
  error?: RegExp | null;
  damage?: RegExp | null;
}

export interface AwkwardFile {
  /** In which way it differs. */
  what: string;
  bytes: Uint8Array;
  expected: Expected;
}

const latin1 = (text: string) => Buffer.from(text, 'latin1');
const textOf = (bytes: Uint8Array) => Buffer.from(bytes).toString('latin1');
const part = (id = 'P') => textOf(writeBoxPart({ id, boxes: [{ name: 'body' }] }));
const HEADER =
  "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('x','',(''),(''),'','','');\nFILE_SCHEMA(('AP214'));\nENDSEC;\nDATA;\n";
const file = (data: string) => latin1(`${HEADER}${data}\nENDSEC;\nEND-ISO-10303-21;\n`);
/** With more instances behind the last. */
const more = (text: string, data: string) =>
  latin1(text.replace('ENDSEC;\nEND-ISO', `${data}\nENDSEC;\nEND-ISO`));
const one: Expected = { roots: ['P'], bodies: 1, unit: 'mm', error: null, damage: null };

/** PRODUCT, formation and definition from a number on; the definition is the third. */
const product = (at: number, id: string, name = id) =>
  `#${at}=PRODUCT('${id}','${name}','',());#${at + 1}=PRODUCT_DEFINITION_FORMATION('','',#${at});#${at + 2}=PRODUCT_DEFINITION('','',#${at + 1},$);\n`;
const usage = (at: number, name: string, parent: number, child: number) =>
  `#${at}=NEXT_ASSEMBLY_USAGE_OCCURRENCE('${at}','${name}','',#${parent},#${child},$);\n`;

/** One component, placed away from the origin. */
function placedAssembly(placementForm: PlacementForm, unit: 'mm' | 'in' = 'mm'): Uint8Array {
  const placings = [{ name: 'c', placement: placementFromAxes([10, 20, 30], [0, 1, 0], [1, 0, 0]) }];
  return writeAssembly({
    id: 'A',
    name: 'A',
    fileName: 'a.stp',
    timeStamp: '2026-01-01T00:00:00',
    components: [{ id: 'C', name: 'C', written: 'c.stp', placings }],
    placementForm,
    unit,
  });
}

/** Instances in the opposite order. */
function reversed(text: string): Uint8Array {
  const [head, data] = text.split('DATA;\n') as [string, string];
  const [instances, tail] = data.split('ENDSEC;\nEND') as [string, string];
  return latin1(`${head}DATA;\n${instances.trim().split('\n').reverse().join('\n')}\nENDSEC;\nEND${tail}`);
}

export const AWKWARD_FILES: readonly AwkwardFile[] = [
  {
    what: 'one body that its part places twice',
    bytes: more(
      part().replace(/(#\d+=ADVANCED_BREP_SHAPE_REPRESENTATION\('P',)\(#\d+\)/, '$1(#9003,#9004)'),
      // The representation that holds it, mapped to where it is and to beside that.
      `#9000=CARTESIAN_POINT('',(50.,0.,0.));#9001=AXIS2_PLACEMENT_3D('',#9000,$,$);
#9006=CARTESIAN_POINT('',(0.,0.,0.));#9007=AXIS2_PLACEMENT_3D('',#9006,$,$);
#9005=SHAPE_REPRESENTATION('',(#${/#(\d+)=MANIFOLD_SOLID_BREP/.exec(part())![1]}),#${/#(\d+)=\(GEOMETRIC_REPRESENTATION_CONTEXT/.exec(part())![1]});
#9002=REPRESENTATION_MAP(#9007,#9005);#9003=MAPPED_ITEM('',#9002,#9007);#9004=MAPPED_ITEM('',#9002,#9001);`,
    ),
    expected: { ...one, bodies: 2 },
  },
  // The text (ISO 10303-21).
  { what: 'ids in no order', bytes: reversed(part()), expected: one },
  {
    what: 'instances over several lines, with comments between everything',
    bytes: latin1(part().replaceAll('=', ' =\r\n /* = ; #1 */ ').replaceAll(',', ' ,\n')),
    expected: one,
  },
  { what: 'carriage returns only', bytes: latin1(part().replaceAll('\n', '\r')), expected: one },
  {
    what: 'a byte order mark',
    bytes: Buffer.concat([Buffer.from([0xef, 0xbb, 0xbf]), latin1(part())]),
    expected: one,
  },
  {
    what: 'strings that hold signs of the syntax',
    bytes: latin1(part().replaceAll("'P'", "'a;#1=''b''(/*'")),
    expected: { roots: ["a;#1='b'(/*"], bodies: 1, damage: null },
  },
  {
    what: 'letters in the extended alphabets, and as plain Latin-1',
    bytes: latin1(part().replace("PRODUCT('P','P'", "PRODUCT('\\X2\\03A9\\X0\\','Geh\\S\\duse \xfc'")),
    expected: { roots: ['Gehäuse ü'] },
  },
  {
    what: 'numbers of instances far apart',
    bytes: latin1(part().replaceAll(/#(\d+)/g, (_, id) => `#${Number(id) * 40_009}`)),
    expected: one,
  },
  {
    what: 'two data sections with names',
    bytes: latin1(part().replace(/\n(#20=)/, "\nENDSEC;\nDATA('rest',('AP242'));\n$1")),
    expected: one,
  },
  { what: 'lower-case keywords', bytes: latin1(part().replace('PLANE(', 'plane(')), expected: one },

  // What is broken.
  {
    what: 'a file that ends in the middle',
    bytes: latin1(part()).subarray(0, 3000),
    expected: { error: /Line \d+/ },
  },
  { what: 'no STEP file', bytes: latin1('solid x'), expected: { error: /not a STEP file/ } },
  {
    what: 'a reference to what is not there',
    bytes: latin1(part().replace(/\n#\d+=CLOSED_SHELL.*/, '')),
    expected: { bodies: 1, error: null, damage: /MANIFOLD_SOLID_BREP\) refers to #\d+.*the shape of body/ },
  },
  {
    what: 'partial records out of order',
    bytes: latin1(part().replace('LENGTH_UNIT()NAMED_UNIT(*)', 'NAMED_UNIT(*)LENGTH_UNIT()')),
    expected: one,
  },

  // Units.
  { what: 'inches', bytes: writeBoxPart({ id: 'P', unit: 'in' }), expected: { unit: 'in' } },
  { what: 'metres', bytes: writeBoxPart({ id: 'P', unit: 'm' }), expected: { unit: 'm' } },
  {
    what: 'no unit at all',
    bytes: latin1(part().replace(/GLOBAL_UNIT_ASSIGNED_CONTEXT\(\([^)]*\)\)/, '')),
    expected: { bodies: 1, unit: null },
  },

  {
    what: 'another unit than its components',
    bytes: placedAssembly('pair', 'in'),
    expected: { unit: 'in', places: [[10, 20, 30]] },
  },

  // Placements.
  ...(['pair', 'swapped pair', 'mapped item'] as const).map((form) => ({
    what: `a placement written as a ${form}`,
    bytes: placedAssembly(form),
    expected: { places: [[10, 20, 30] as const] },
  })),

  // Bodies and colours.
  {
    what: 'a solid with voids',
    bytes: latin1(part().replace(/MANIFOLD_SOLID_BREP\('body',(#\d+)\)/, "BREP_WITH_VOIDS('body',$1,())")),
    expected: { kinds: ['solid'] },
  },
  {
    what: 'a faceted solid',
    bytes: latin1(part().replace('MANIFOLD_SOLID_BREP', 'FACETED_BREP')),
    expected: { kinds: ['solid'] },
  },
  {
    what: 'an open surface',
    bytes: latin1(
      part()
        .replace(/MANIFOLD_SOLID_BREP\('body',(#\d+)\)/, "SHELL_BASED_SURFACE_MODEL('body',($1))")
        .replace('CLOSED_SHELL', 'OPEN_SHELL'),
    ),
    expected: { kinds: ['surface'] },
  },
  {
    what: 'curves only',
    bytes: latin1(part().replace(/MANIFOLD_SOLID_BREP\('body',#\d+\)/, "GEOMETRIC_CURVE_SET('body',())")),
    expected: { roots: ['P'], bodies: 0 },
  },
  {
    what: 'colours of bodies and of single faces',
    bytes: writeBoxPart({
      id: 'P',
      boxes: [
        { colour: '#ff0000' },
        { corner: [20, 0, 0], colour: '#00ff00', faceColours: { 1: '#0000ff', 2: '#0000ff' } },
        { corner: [40, 0, 0] },
      ],
    }),
    expected: {
      colours: [
        ['#ff0000', 0],
        ['#00ff00', 2],
        [null, 0],
      ],
    },
  },

  // Products.
  {
    what: 'a raw material by its category',
    bytes: more(
      part(),
      `${product(9001, 'AlMg3', 'Aluminium AlMg3')}#9010=PRODUCT_RELATED_PRODUCT_CATEGORY('raw material','',(#9001));#9011=MAKE_FROM_USAGE_OPTION('1','','',#${/#(\d+)=PRODUCT_DEFINITION\(/.exec(part())![1]},#9003,1,'',$);`,
    ),
    expected: { roots: ['P'], products: [{ name: 'P', bodies: 1, material: 'Aluminium AlMg3' }] },
  },
  {
    what: 'a blank that a part is made from, without a category',
    bytes: file(
      `${product(1, 'A')}${product(11, 'B')}${product(21, 'BAR', 'Round bar 20')}${usage(31, 'b', 3, 13)}#41=MAKE_FROM_USAGE_OPTION('1','','',#13,#23,1,'',$);`,
    ),
    expected: { roots: ['A'], products: [{ name: 'A' }, { name: 'B', material: 'Round bar 20' }] },
  },
  {
    what: 'documents that are products, too',
    bytes: more(
      part(),
      "#9001=PRODUCT('DOC','Drawing','',());#9002=PRODUCT_DEFINITION_FORMATION('','',#9001);#9003=PRODUCT_DEFINITION('','',#9002,#9004);#9004=PRODUCT_DEFINITION_CONTEXT('physical document definition',$,'');",
    ),
    expected: one,
  },
  {
    what: 'occurrences that all have one name',
    bytes: file(
      `${product(1, 'A')}${product(11, 'B')}${product(21, 'C')}${usage(31, 'Next assembly relationship', 3, 13)}${usage(32, 'Next assembly relationship', 3, 23)}`,
    ),
    expected: { products: [{ name: 'A', occurrences: ['B', 'C'] }, { name: 'B' }, { name: 'C' }] },
  },
  {
    what: 'occurrences that are only numbered',
    bytes: file(
      `${product(1, 'A')}${product(11, 'B')}${product(21, 'C')}${['NAUO12', '=>[0:1:1:9]', 'nauo_3', '7', 'Instance', '[0:1:1:2:1]', 'M6 7'].map((name, n) => usage(31 + n, name, 3, n % 2 === 0 ? 13 : 23)).join('')}`,
    ),
    expected: {
      products: [
        { name: 'A', occurrences: ['B', 'C', 'B', 'C', 'B', 'C', 'M6 7'] },
        { name: 'B' },
        { name: 'C' },
      ],
    },
  },
  {
    what: 'one part placed twice under one name',
    bytes: file(
      `${product(1, 'A')}${product(11, 'B')}${usage(31, 'left', 3, 13)}${usage(32, 'left', 3, 13)}`,
    ),
    expected: { products: [{ name: 'A', occurrences: ['left', 'left'] }, { name: 'B' }] },
  },
  {
    what: 'a product that has only an id',
    bytes: latin1(part().replace("PRODUCT('P','P'", "PRODUCT('4711',''")),
    expected: { roots: ['4711'], bodies: 1 },
  },

  // Links.
  ...(['identification', 'document id', 'source', 'folder and name', 'document', 'associated'] as const).map(
    (form) => ({
      what: `a component written in the form "${form}"`,
      bytes: testAssembly('A', [{ written: 'parts/c.stp', id: 'C' }], form),
      expected: { roots: ['A assembly'], links: [{ kind: 'component', written: 'parts/c.stp' }] },
    }),
  ),
  {
    what: 'two documents for one component',
    bytes: latin1(
      textOf(testAssembly('A', [{ written: 'c.stp', id: 'C' }])).replace(
        /(#\d+=APPLIED_DOCUMENT_REFERENCE\()(#\d+)(,'',\(#\d+\)\);)/,
        "$1$2$3\n#9001=DOCUMENT_FILE('c.stp','',$,#9002,'',$);\n#9002=DOCUMENT_TYPE('');\n#9003=APPLIED_DOCUMENT_REFERENCE(#9001$3",
      ),
    ),
    expected: { links: [{ kind: 'component', written: 'c.stp' }] },
  },
  {
    what: 'a path of another computer',
    bytes: testAssembly('A', [{ written: 'C:\\work\\parts\\c.stp', id: 'C' }]),
    expected: { links: [{ kind: 'component', written: 'C:\\work\\parts\\c.stp' }] },
  },
  {
    what: 'a drawing that a part points at',
    bytes: more(
      part(),
      `#9001=DOCUMENT_TYPE('');#9002=DOCUMENT_FILE('p.pdf','','',#9001,'',$);#9003=APPLIED_DOCUMENT_REFERENCE(#9002,'',(#${/#(\d+)=PRODUCT_DEFINITION\(/.exec(part())![1]}));`,
    ),
    expected: { links: [{ kind: 'attachment', written: 'p.pdf' }], bodies: 1 },
  },
  {
    what: 'a document of a part that has its shape in the file',
    bytes: more(
      part(),
      `#9001=DOCUMENT_TYPE('');#9002=DOCUMENT_FILE('p.stp','','',#9001,'',$);#9003=APPLIED_DOCUMENT_REFERENCE(#9002,'',(#${/#(\d+)=PRODUCT_DEFINITION\(/.exec(part())![1]}));`,
    ),
    expected: { links: [{ kind: 'attachment', written: 'p.stp' }], bodies: 1 },
  },
];
