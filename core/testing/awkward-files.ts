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

/** Instances in the opposite order. */
function reversed(text: string): Uint8Array {
  const [head, data] = text.split('DATA;\n') as [string, string];
  const [instances, tail] = data.split('ENDSEC;\nEND') as [string, string];
  return latin1(`${head}DATA;\n${instances.trim().split('\n').reverse().join('\n')}\nENDSEC;\nEND${tail}`);
}

export const AWKWARD_FILES: readonly AwkwardFile[] = [
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
