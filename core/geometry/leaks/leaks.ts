import { eachReference } from '#core/files/part21/each-reference';
import { eachString } from '#core/files/part21/each-string';
import type { Part21File } from '#core/files/part21/file';

import { decodeString } from '#core/files/part21/strings';

/** What a file may tell of the design besides its outside. */
export const LEAK_KINDS = [
  'names',
  'ids',
  'labels',
  'authors',
  'colours',
  'layers',
  'materials',
  'properties',
  'annotation',
  'links',
  'recipe',
  'comments',
  'spare instances',
  'inner faces',
] as const;
export type LeakKind = (typeof LEAK_KINDS)[number];

/** Something that can still be told from a file. */
export interface Leak {
  kind: LeakKind;
  /** How often. */
  count: number;
  /** A few of them, as they are written. */
  examples: string[];
  /** What helps against it, in words. */
  remedy: string;
}

const REMEDIES: { readonly [kind in LeakKind]: string } = {
  names: 'Forget the names of parts, bodies and faces.',
  ids: 'Forget the part numbers.',
  labels: 'Forget the names of parts, bodies and faces.',
  authors: 'Forget author and organisation.',
  colours: 'Forget the colours.',
  layers: 'Forget the layers.',
  materials: 'Forget the materials.',
  properties: 'Make it for outside.',
  annotation: 'Make it for outside.',
  links: 'Make it for outside: what lies in other files is taken into one.',
  recipe: 'Make it for outside: it then remembers nothing.',
  comments: 'Make it for outside.',
  'spare instances': 'Make it for outside.',
  'inner faces':
    'Leave out what cannot be touched from outside, fill what is hidden, and cut off what ends inside. Where parts lie on each other only a sealed solid has no inside.',
};

/** Entities whose strings say something of a kind of their own. */
const BY_ENTITY: readonly [pattern: RegExp, kind: LeakKind][] = [
  [
    /^(PERSON|ORGANIZATION|ADDRESS|APPROVAL|.*DATE.*|SECURITY_CLASSIFICATION|CONTRACT|CERTIFICATION)/,
    'authors',
  ],
  [/^MATERIAL|^PRODUCT_MATERIAL/, 'materials'],
  [/LAYER/, 'layers'],
  [/^(DOCUMENT|EXTERNAL|APPLIED_EXTERNAL|APPLIED_DOCUMENT|FILE_LOCATION)/, 'links'],
  [
    /^(ANNOTATION|DRAUGHTING|DIMENSION|GEOMETRIC_TOLERANCE|DATUM|TEXT_|LEADER|CAMERA|TOLERANCE)/,
    'annotation',
  ],
  [/^(PROPERTY|GENERAL_PROPERTY|DESCRIPTIVE_REPRESENTATION|MEASURE_REPRESENTATION|VALIDATION)/, 'properties'],
];
const COLOURS = /^COLOUR_RGB$|PRE_DEFINED_COLOUR$/;

/** Strings that say nothing: words of the standard, and what every writer puts there. */
const PLAIN = new Set(
  [
    '',
    'NONE',
    'UNKNOWN',
    'part',
    'detail',
    'design',
    'mechanical',
    'part definition',
    'international standard',
    'managed model based 3d engineering',
    'ap242_managed_model_based_3d_engineering',
    'distance_accuracy_value',
    'edge curve and vertex point accuracy',
    '3D',
    '2D SPACE',
    '3D SPACE',
    'INCH',
    'colour',
    'configuration controlled document version',
    'Stone Tray',
    // What reduced files call their parts.
    'origin',
  ].map((word) => word.toLowerCase()),
);
const NUMBERED = /^part \d+(\.\d+)?$/;
const EXAMPLES = 5;

/**
 * What can still be told from a STEP file besides the outside of its bodies: every string that is not a word of the standard, colours that
 * betray parts, comments, and instances that nothing needs. Cost grows with the bytes.
 * @param own the file's own name, which it may say
 */
export function leaksIn(file: Part21File, own = ''): Leak[] {
  const found = new Map<LeakKind, Map<string, number>>();
  const tell = (kind: LeakKind, text: string) => {
    const known = found.get(kind) ?? new Map<string, number>();
    known.set(text, (known.get(text) ?? 0) + 1);
    found.set(kind, known);
  };
  const isPlain = (text: string) =>
    PLAIN.has(text.trim().toLowerCase()) || NUMBERED.test(text) || (own !== '' && text === own);

  // 1. The header.
  const { authors, organizations, authorization, description } = file.header;
  for (const text of [...authors, ...organizations, authorization]) if (!isPlain(text)) tell('authors', text);
  for (const text of description) if (!isPlain(text)) tell('properties', text);

  // 2. Every string, by the entity that it stands in.
  const { index, bytes } = file;
  const recipe = new Set<number>();
  for (const id of file.idsOfType('PROPERTY_DEFINITION'))
    if (file.stringOf(id, 0)?.text === 'derived file') recipe.add(id);
  const colours = new Set<string>();
  for (let position = 0; position < index.count; position++) {
    const keyword = index.keywords[index.types[position]!]!;
    const [from, end] = [index.contents[position]!, index.ends[position]!];
    if (COLOURS.test(keyword)) {
      colours.add(Buffer.from(bytes.subarray(from, end)).toString('latin1'));
      continue;
    }
    if (keyword === 'PRESENTATION_LAYER_ASSIGNMENT')
      tell('layers', file.stringOf(index.ids[position]!, 0)?.text ?? '');
    let number = 0;
    eachString(bytes, from, end, (start, close) => {
      const text = decodeString(bytes, start, close);
      number++;
      if (isPlain(text) || keyword === 'PRESENTATION_LAYER_ASSIGNMENT') return;
      tell(kindOf(keyword, number, recipe.size > 0), text);
    });
  }
  if (colours.size > 1)
    for (const text of colours) tell('colours', text.replace(/^COLOUR_RGB\('[^']*',|\);$/g, ''));

  // 3. What stands beside the instances, and what nothing needs.
  for (const text of commentsIn(file)) tell('comments', text);
  for (const text of spareInstances(file)) tell('spare instances', text);
  return [...found].map(([kind, texts]) =>
    leak(
      kind,
      [...texts.values()].reduce((sum, n) => sum + n, 0),
      [...texts.keys()],
    ),
  );
}

/** One line of the report. */
export function leak(kind: LeakKind, count: number, examples: readonly string[] = []): Leak {
  // A string may run over the end of a line, which is no part of it (ISO 10303-21, 6.3).
  const short = examples
    .slice(0, EXAMPLES)
    .map((text) => text.replace(/[\r\n]/g, ''))
    .map((text) => (text.length > 80 ? `${text.slice(0, 79)}…` : text));
  return { kind, count, examples: short, remedy: REMEDIES[kind] };
}

function kindOf(keyword: string, number: number, hasRecipe: boolean): LeakKind {
  if (keyword === 'PRODUCT') return number === 1 ? 'ids' : 'names';
  if (keyword === 'NEXT_ASSEMBLY_USAGE_OCCURRENCE') return 'names';
  if (keyword === 'DESCRIPTIVE_REPRESENTATION_ITEM' && hasRecipe) return 'recipe';
  const known = BY_ENTITY.find(([pattern]) => pattern.test(keyword));
  if (known) return known[1];
  return /BREP|SURFACE_MODEL|SHAPE_REPRESENTATION/.test(keyword) ? 'names' : 'labels';
}

/** Comments between instances, and in them. */
export function commentsIn({ bytes }: Part21File): string[] {
  const found: string[] = [];
  const text = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = text.indexOf('/*'); at >= 0 && found.length < 1000; ) {
    const end = text.indexOf('*/', at + 2);
    if (end < 0) break;
    // One within a string is none; strings do not run over lines of their own here.
    const before = text.subarray(Math.max(0, text.lastIndexOf('\n', at)), at).toString('latin1');
    if ((before.split("'").length - 1) % 2 === 0)
      found.push(
        text
          .subarray(at + 2, end)
          .toString('latin1')
          .trim(),
      );
    at = text.indexOf('/*', end + 2);
  }
  return found;
}

/** Entities at which the needs of a file begin: everything else is there for something. */
const TOPS =
  /^(SHAPE_DEFINITION_REPRESENTATION|CONTEXT_DEPENDENT_SHAPE_REPRESENTATION|APPLICATION_PROTOCOL_DEFINITION|PRODUCT_RELATED_PRODUCT_CATEGORY|MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION|PRESENTATION_LAYER_ASSIGNMENT|PROPERTY_DEFINITION_REPRESENTATION|GENERAL_PROPERTY_ASSOCIATION|APPLIED_|MATERIAL_DESIGNATION|SHAPE_REPRESENTATION_RELATIONSHIP|.*PROPERTY_REPRESENTATION|KINEMATIC_|MECHANISM|.*PAIR.*|.*_ASSOCIATION$|PRODUCT_CATEGORY)/;

/** Instances that nothing refers to, and that are no ends in themselves. */
function spareInstances(file: Part21File): string[] {
  const { index, bytes } = file;
  const isUsed = new Set<number>();
  for (let n = 0; n < index.count; n++)
    eachReference(bytes, index.contents[n]!, index.ends[n]!, (id) => isUsed.add(id));
  const spare: string[] = [];
  for (let n = 0; n < index.count; n++) {
    const keyword = index.keywords[index.types[n]!]!;
    if (keyword === '' || isUsed.has(index.ids[n]!) || TOPS.test(keyword)) continue;
    spare.push(keyword);
  }
  return spare;
}

/** Every string of a file, decoded. */
export function stringsIn({ index, bytes, header }: Part21File): Set<string> {
  const found = new Set<string>([
    header.name,
    ...header.authors,
    ...header.organizations,
    ...header.description,
    header.originatingSystem,
    header.preprocessor,
    header.authorization,
  ]);
  for (let position = 0; position < index.count; position++) {
    eachString(bytes, index.contents[position]!, index.ends[position]!, (start, close) => {
      if (close > start) found.add(decodeString(bytes, start, close));
    });
  }
  return found;
}
