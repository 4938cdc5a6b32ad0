import { z } from 'zod';
import { Part21File } from '#core/files/part21/file';
import type { WrittenString } from '#core/files/part21/one-parameter';
import type { Reference } from '#core/files/part21/parameters';
import { leavingWith, withoutInstances } from '#core/files/part21/remove';
import type { Part21Builder } from '#core/files/part21/write';
import { documentsOfSource, readDocumentSources } from './document-tie';
import { MadeReport } from './made-report';
import { bodyIn, digestIn, type SourceMemory } from './memory';

/** A source as a file writes it: where it lies, and what is remembered of it. */
export interface WrittenSource {
  written: string;
  path: WrittenString;
  /** PRODUCT_DEFINITION that came out of it. */
  definition: number;
  memory: SourceMemory;
}

/** Name of the property that holds a source. */
const PROPERTY = 'derived file';
/** ISO 10303-21 has no limit for strings, but readers have. */
const LONGEST_TEXT = 4000;
const CONTINUED = ', continued';

const WrittenRecipe = z.object({
  operation: z.string(),
  choices: z.unknown(),
  // One that somebody else wrote says nothing; the recipe holds all the same.
  report: MadeReport.optional().catch(undefined),
});

/**
 * Writes a source link (docs/link-formats.md): a property of the product that came out of it (ISO 10303-41,
 * property_definition), with a descriptive item (ISO 10303-45) for everything that is remembered. It is no document on purpose:
 * a document of the product's own definition is how an external part is declared, and others would load the source as well.
 */
export function addSourceLink(
  builder: Part21Builder,
  definition: Reference,
  written: string,
  { relation, sha256, bodies, recipe }: SourceMemory,
): void {
  const add = builder.add.bind(builder);
  const items: Reference[] = [];
  const say = (name: string, text: string) => {
    const letters = [...text];
    for (let at = 0; at === 0 || at < letters.length; at += LONGEST_TEXT) {
      const piece = letters.slice(at, at + LONGEST_TEXT).join('');
      items.push(add('DESCRIPTIVE_REPRESENTATION_ITEM', at === 0 ? name : `${name}${CONTINUED}`, piece));
    }
  };
  say('path', written);
  if (sha256 !== null) say('digest', `sha256:${sha256}`);
  for (const { id, name } of bodies) say('item', `#${id} ${name}`.trim());
  if (recipe) say('recipe', JSON.stringify(recipe));
  const property = add('PROPERTY_DEFINITION', PROPERTY, relation, definition);
  const context = add('REPRESENTATION_CONTEXT', PROPERTY, '');
  const representation = add('REPRESENTATION', PROPERTY, items, context);
  add('PROPERTY_DEFINITION_REPRESENTATION', property, representation);
  const general = add('GENERAL_PROPERTY', '', PROPERTY, null);
  add('GENERAL_PROPERTY_ASSOCIATION', '', '', general, property);
}

/** Whether bytes can hold sources in this form; a search, several times faster than reading the file. */
export function mayHoldSources(bytes: Uint8Array): boolean {
  return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).includes(`'${PROPERTY}'`);
}

/** The sources that a file writes as properties. Those of older files are documents: `readDocumentSources`. */
export function readSources(file: Part21File): WrittenSource[] {
  const properties = sourceProperties(file);
  if (properties.size === 0) return [];
  return file.idsOfType('PROPERTY_DEFINITION_REPRESENTATION').flatMap((id) => {
    const property = file.referenceOf(id, 0) ?? -1;
    const definition = file.referenceOf(property, 2);
    if (!properties.has(property) || definition === undefined) return [];
    const relation = file.stringOf(property, 1)?.text ?? '';
    const source = readItems(file, file.referenceOf(id, 1), relation);
    return source ? [{ ...source, definition }] : [];
  });
}

function sourceProperties(file: Part21File): Set<number> {
  return new Set(
    file.idsOfType('PROPERTY_DEFINITION').filter((id) => file.stringOf(id, 0)?.text === PROPERTY),
  );
}

/** Whether an instance that nothing refers to belongs to a source: what joins its property to what is remembered. */
export function belongsToSource(file: Part21File, id: number): boolean {
  const keyword = file.typeOf(id);
  const position = keyword === 'GENERAL_PROPERTY_ASSOCIATION' ? 3 : 0;
  if (position === 0 && keyword !== 'PROPERTY_DEFINITION_REPRESENTATION') return false;
  return sourceProperties(file).has(file.referenceOf(id, position) ?? -1);
}

/** The items of one source; undefined when they name no path. */
function readItems(
  file: Part21File,
  representation: number | undefined,
  relation = '',
): Omit<WrittenSource, 'definition'> | undefined {
  let path: WrittenString | undefined;
  let recipe = '';
  const memory: SourceMemory = { relation, sha256: null, bodies: [] };
  for (const item of file.referencesOf(representation, 1)) {
    const name = file.stringOf(item, 0)?.text;
    const value = file.stringOf(item, 1);
    if (!value) continue;
    if (name === 'path') path = value;
    else if (name === 'digest') memory.sha256 = digestIn(value.text);
    else if (name === 'item') memory.bodies.push(...bodyIn(value.text));
    else if (name === 'recipe' || name === `recipe${CONTINUED}`) recipe += value.text;
  }
  const understood = WrittenRecipe.safeParse(parsed(recipe));
  if (understood.success) memory.recipe = understood.data;
  return path && path.text.trim() !== '' ? { written: path.text, path, memory } : undefined;
}

/** A recipe that is no JSON is none: somebody else wrote it. */
function parsed(json: string): unknown {
  try {
    return JSON.parse(json);
  } catch {
    return undefined;
  }
}

/** The representations that hold what is remembered of a source written so. */
export function sourceRepresentations(file: Part21File, written: string): number[] {
  const properties = sourceProperties(file);
  return file.idsOfType('PROPERTY_DEFINITION_REPRESENTATION').flatMap((id) => {
    const representation = file.referenceOf(id, 1);
    if (!properties.has(file.referenceOf(id, 0) ?? -1) || representation === undefined) return [];
    return readItems(file, representation)?.written === written ? [representation] : [];
  });
}

/** What belongs to nothing but a tie, and goes with it. */
const PARTS_OF_A_TIE =
  /^(PROPERTY_DEFINITION|REPRESENTATION|REPRESENTATION_CONTEXT|DESCRIPTIVE_REPRESENTATION_ITEM|GENERAL_PROPERTY|IDENTIFICATION_ROLE|DOCUMENT_TYPE|EXTERNAL_SOURCE)$/;

/**
 * Detaches a file from a source: the property or the document that names it, what says something about that, and what
 * nothing else uses, are taken out. No other byte changes.
 * @param written the source link, as the file writes it
 */
export function withoutSource(bytes: Uint8Array, written: string): Uint8Array {
  const file = Part21File.read(bytes);
  const leaving = leavingWith(
    file,
    (users) => [
      ...sourceRepresentations(file, written)
        .flatMap((representation) => users.get(representation) ?? [])
        .map((link) => file.referenceOf(link, 0)!),
      ...documentsOfSource(file, readDocumentSources(file).keys(), written),
    ],
    (id) => PARTS_OF_A_TIE.test(file.typeOf(id) ?? ''),
  );
  return withoutInstances(file, leaving);
}
