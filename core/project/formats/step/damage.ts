import type { Part21File } from '#core/files/part21/file';
import { outsideReferences } from '#core/files/part21/outside-references';
import { NOWHERE, ReferenceTable } from '#core/files/part21/references';
import { unboundedNumbers } from '#core/files/part21/unbounded-numbers';
import type { Product } from '#core/product/structure';

/** What an instance is about, by its keyword: what cannot be trusted when it refers to something that is not there. */
const ABOUT: readonly [keywords: RegExp, words: string][] = [
  [
    /NEXT_ASSEMBLY_USAGE|CONTEXT_DEPENDENT|TRANSFORMATION|RELATIONSHIP|MAPPED_ITEM|REPRESENTATION_MAP/,
    'where components stand',
  ],
  [/DOCUMENT|EXTERNAL|IDENTIFICATION/, 'links to other files'],
  [/STYLE|COLOUR|PRESENTATION|LAYER|INVISIBILITY|DRAUGHTING/, 'colours and layers'],
  [/^PRODUCT|SHAPE_DEFINITION|PROPERTY|MATERIAL/, 'which products there are, and what they are made of'],
];
const MOST_NAMED = 3;

/** What is wrong with some instances of a file: the first place, and how many more there are; by their positions. */
interface Trouble {
  words: string;
  broken: ReadonlySet<number>;
}

/**
 * What is the matter with a file that reads well and cannot be trusted, in words for the engineer: instances that are referred to and not
 * there, numbers that no size can be; the first of each, how many more there are, and what cannot be trusted for it.
 * @param file read with a check, else the references are looked through in any case
 * @returns null for a file that is whole
 */
export function damageOf(file: Part21File, products: readonly Product[]): string | null {
  const troubles = [missingInstances(file), numbersWithoutBounds(file)].filter((trouble) => trouble !== null);
  if (troubles.length === 0) return null;
  const broken = new Set(troubles.flatMap((trouble) => [...trouble.broken]));
  const words = troubles.map((trouble) => trouble.words).join(' ');
  return `${words} ${untrusted(file, ReferenceTable.of(file), products, broken)} Save the file again in the system that it comes from.`;
}

function numbersWithoutBounds(file: Part21File): Trouble | null {
  const found = unboundedNumbers(file);
  const [first] = found;
  if (!first) return null;
  const rest = found.length - 1;
  const more =
    rest === 0 ? '' : `; ${rest.toLocaleString('en')} more such ${rest === 1 ? 'number' : 'numbers'}`;
  return {
    words: `#${file.index.ids[first.position]} (${nameOf(file, first.position)}) holds ${first.written}, which no size can be${more}.`,
    broken: new Set(found.map(({ position }) => position)),
  };
}

function nameOf({ index: { keywords, types } }: Part21File, position: number): string {
  return keywords[types[position]!] || 'a complex instance';
}

function missingInstances(file: Part21File): Trouble | null {
  if (file.missing === 0) return null;
  const table = ReferenceTable.of(file);
  if (table.isWhole) return null;
  // Those that stand in other files are not missing.
  const outside = new Set(outsideReferences(file).map(({ id }) => id));
  const { ids } = file.index;
  const broken = new Set<number>();
  let count = 0;
  let first = '';
  for (let position = 0; position < file.instanceCount; position++) {
    for (let at = table.first[position]!; at < table.first[position + 1]!; at++) {
      if (table.targets[at] !== NOWHERE) continue;
      const start = table.starts[at]!;
      const target = Buffer.from(file.bytes.subarray(start, start + table.lengths[at]!)).toString('latin1');
      if (outside.has(Number(target.slice(1)))) continue;
      broken.add(position);
      if (count++ > 0) continue;
      first = `#${ids[position]} (${nameOf(file, position)}) refers to ${target}, which is not here`;
    }
  }
  if (count === 0) return null;
  const more =
    count === 1
      ? ''
      : `; ${(count - 1).toLocaleString('en')} more ${count === 2 ? 'reference leads' : 'references lead'} nowhere`;
  return { words: `${first}${more}.`, broken };
}

function untrusted(
  file: Part21File,
  table: ReferenceTable,
  products: readonly Product[],
  broken: ReadonlySet<number>,
): string {
  const doubts: string[] = [];
  const explained = new Set<number>();
  const bodies = new Map(
    products.flatMap((product) => product.bodies.map((body) => [body.id, { product, body }])),
  );
  const names: string[] = [];
  for (const [id, { product, body }] of bodies) {
    const own = table.closure([file.position(id)!]).filter((position) => broken.has(position));
    if (own.length === 0) continue;
    for (const position of own) explained.add(position);
    names.push(body.name || (product.bodies.length === 1 ? product.name : `body #${id}`));
  }
  if (names.length > 0) {
    const named = names.slice(0, MOST_NAMED).join(', ');
    const rest = names.length - MOST_NAMED;
    doubts.push(`the shape of ${named}${rest > 0 ? ` and ${rest} more` : ''}`);
  }
  const others = new Set<string>();
  for (const position of broken) {
    if (explained.has(position)) continue;
    const keyword = keywordsOf(file, position);
    others.add(ABOUT.find(([known]) => known.test(keyword))?.[1] ?? 'what else these instances say');
  }
  doubts.push(...[...others].sort());
  const last = doubts.pop()!;
  const all = doubts.length === 0 ? last : `${doubts.join(', ')} and ${last}`;
  return `Not to be trusted: ${all}.`;
}

/** Of a complex instance all of them. */
function keywordsOf(file: Part21File, position: number): string {
  const { types, keywords, contents, ends } = file.index;
  const own = keywords[types[position]!]!;
  return own || Buffer.from(file.bytes.subarray(contents[position]!, ends[position]!)).toString('latin1');
}
