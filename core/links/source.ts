import { append } from '#core/multimap';
import { eachReference } from '#core/part21/each-reference';
import { Part21File } from '#core/part21/file';
import { type Reference, Typed } from '#core/part21/parameters';
import { withoutInstances } from '#core/part21/remove';
import { replaceStrings, type StringReplacement } from '#core/part21/rewrite';
import type { Part21Builder } from '#core/part21/write';

/** How a file came out of its source. */
export type SourceRelation = 'split';

/** What a file remembers of where it came from, besides the path. */
export interface SourceMemory {
  relation: SourceRelation;
  /** Hash of the source's bytes when it was taken; null when the file does not say. */
  sha256: string | null;
  /** The bodies of the source that the file stands for; none for a file that stands for all. */
  bodies: { id: number; name: string }[];
}

const TYPE_SUFFIX = ' source';
const DIGEST = 'content digest';
const ITEM = 'item of source';

/**
 * Writes a source link (docs/link-formats.md): a further external document of the product, whose DOCUMENT_TYPE names
 * the relation. Version and bodies are identifications of that document (ISO 10303-41,
 * APPLIED_IDENTIFICATION_ASSIGNMENT), which readers that do not know them pass over.
 * @returns the DOCUMENT_FILE
 */
export function addSourceLink(
  builder: Part21Builder,
  definition: Reference,
  written: string,
  { relation, sha256, bodies }: SourceMemory,
): Reference {
  const add = builder.add.bind(builder);
  const document = add(
    'DOCUMENT_FILE',
    written,
    '',
    '',
    add('DOCUMENT_TYPE', `${relation}${TYPE_SUFFIX}`),
    '',
    null,
  );
  const location = add('IDENTIFICATION_ROLE', 'external document id and location', null);
  const external = add('EXTERNAL_SOURCE', new Typed('IDENTIFIER', ''));
  add('APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT', written, location, external, [document]);
  if (sha256 !== null) {
    const role = add('IDENTIFICATION_ROLE', DIGEST, null);
    add('APPLIED_IDENTIFICATION_ASSIGNMENT', `sha256:${sha256}`, role, [document]);
  }
  if (bodies.length > 0) {
    const role = add('IDENTIFICATION_ROLE', ITEM, null);
    for (const { id, name } of bodies)
      add('APPLIED_IDENTIFICATION_ASSIGNMENT', `#${id} ${name}`.trim(), role, [document]);
  }
  add('APPLIED_DOCUMENT_REFERENCE', document, '', [definition]);
  return document;
}

/** What each DOCUMENT_FILE that is a source says about it, by its number. */
export function readSourceMemories(file: Part21File): Map<number, SourceMemory> {
  const memories = new Map<number, SourceMemory>();
  const types = new Map<number, SourceRelation>();
  for (const type of file.idsOfType('DOCUMENT_TYPE'))
    if (file.stringOf(type, 0)?.text === `split${TYPE_SUFFIX}`) types.set(type, 'split');
  if (types.size === 0) return memories;
  for (const document of file.idsOfType('DOCUMENT_FILE')) {
    const relation = types.get(file.referenceOf(document, 3) ?? -1);
    if (relation) memories.set(document, { relation, sha256: null, bodies: [] });
  }
  for (const id of file.idsOfType('APPLIED_IDENTIFICATION_ASSIGNMENT')) {
    const text = file.stringOf(id, 0)?.text ?? '';
    const role = file.stringOf(file.referenceOf(id, 1), 0)?.text;
    for (const item of file.referencesOf(id, 2)) {
      const memory = memories.get(item);
      if (!memory) continue;
      if (role === DIGEST) memory.sha256 = /^sha256:([0-9a-f]{64})$/.exec(text)?.[1] ?? null;
      else if (role === ITEM) {
        const [, number, name] = /^#(\d+) ?(.*)$/s.exec(text) ?? [];
        if (number) memory.bodies.push({ id: Number(number), name: name! });
      }
    }
  }
  return memories;
}

/** What stands in place of a body that the source no longer has. */
const GONE = 'gone from the source';

/**
 * Renews what a file remembers of one source: the version taken, and the numbers and names of the bodies in it. No other
 * byte changes.
 * @param written the source link, as the file writes it
 * @param bodies what each older body is now, by its older number; null for one that is gone
 */
export function renewSource(
  bytes: Uint8Array,
  written: string,
  sha256: string,
  bodies: ReadonlyMap<number, { id: number; name: string } | null>,
): Uint8Array {
  const file = Part21File.read(bytes);
  const documents = sourcesWritten(file, written);
  const replacements: StringReplacement[] = [];
  for (const id of file.idsOfType('APPLIED_IDENTIFICATION_ASSIGNMENT')) {
    const string = file.stringOf(id, 0);
    const ofThis = file.referencesOf(id, 2).some((document) => documents.includes(document));
    if (!string || !ofThis) continue;
    const role = file.stringOf(file.referenceOf(id, 1), 0)?.text;
    if (role === DIGEST) replacements.push({ ...string, text: `sha256:${sha256}` });
    const older = role === ITEM ? /^#(\d+)/.exec(string.text)?.[1] : undefined;
    const now = older === undefined ? undefined : bodies.get(Number(older));
    if (now) replacements.push({ ...string, text: `#${now.id} ${now.name}`.trim() });
    else if (now === null) replacements.push({ ...string, text: GONE });
  }
  return replaceStrings(bytes, replacements);
}

/**
 * Cuts the tie of a file to a source: the document that names it, what says something about that document, and the roles
 * and types that nothing else uses, are taken out. No other byte changes.
 * @param written the source link, as the file writes it
 */
export function cutTie(bytes: Uint8Array, written: string): Uint8Array {
  const file = Part21File.read(bytes);
  const documents = sourcesWritten(file, written);
  // 1. The documents, and the assignments and references that are about nothing else.
  const leaving = new Set<number>(documents);
  const { ids, contents, ends, count } = file.index;
  const users = new Map<number, number[]>();
  for (let n = 0; n < count; n++)
    eachReference(bytes, contents[n]!, ends[n]!, (referred) => append(users, referred, ids[n]!));
  for (const document of documents) for (const user of users.get(document) ?? []) leaving.add(user);
  // 2. What only they used: roles, types and external sources, but never the product.
  for (const id of leaving) {
    eachReference(bytes, file.contentOf(id)!.content, file.contentOf(id)!.end, (referred) => {
      const isOnlyTheirs = (users.get(referred) ?? []).every((user) => leaving.has(user));
      if (isOnlyTheirs && /ROLE|DOCUMENT_TYPE|EXTERNAL_SOURCE/.test(file.typeOf(referred) ?? ''))
        leaving.add(referred);
    });
  }
  return withoutInstances(file, leaving);
}

/** The DOCUMENT_FILEs of the sources whose path is written so, in the document itself or in an assigned id. */
function sourcesWritten(file: Part21File, written: string): number[] {
  const assignments = file.idsOfType('APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT');
  return [...readSourceMemories(file).keys()].filter((document) =>
    [document, ...assignments.filter((id) => file.referencesOf(id, 3).includes(document))].some(
      (id) => file.stringOf(id, 0)?.text === written,
    ),
  );
}
