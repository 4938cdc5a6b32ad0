import { baseName, looksLikeFileName } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import type { WrittenString } from '#core/files/part21/one-parameter';
import { mayReferOutside, outsideReferences } from '#core/files/part21/outside-references';
import { textOf } from '#core/files/part21/parameters';
import { append } from '#core/multimap';
import { readDocumentSources } from '#core/product/source/document-tie';
import { mayHoldSources, readSources } from '#core/product/source/tie';
import type { WrittenLink, WrittenPlace } from '#core/project/formats/link-format';
import { pathInReference } from '#core/project/formats/uri-reference';

/**
 * Whether bytes can hold external references at all: a search for the words that each of them starts from, several
 * times faster than reading the file.
 */
export function mayHoldStepLinks(bytes: Uint8Array): boolean {
  const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const has = (word: string) => buffer.includes(word);
  return has('_FILE') || has('EXTERNALLY_DEFINED_') || mayHoldSources(bytes) || mayReferOutside(bytes);
}

/** The links of a STEP file and nothing else, for when structure and bodies are not wanted. */
export function scanStepLinks(bytes: Uint8Array): WrittenLink[] {
  return mayHoldStepLinks(bytes) ? readStepLinks(Part21File.read(bytes)) : [];
}

/**
 * Reads the external references of a STEP file (ISO 10303-41 external_reference_schema and document_schema), and what
 * it says of the files that it came out of. A reference starts from a DOCUMENT_FILE. The name may stand in its id, its name, in the assigned id of an
 * APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT, in the EXTERNAL_SOURCE, or in several of them. The product it stands
 * for is found through APPLIED_DOCUMENT_REFERENCE (on the DOCUMENT_FILE, or on a DOCUMENT joined to it) or through
 * PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS. Appearances may stand in a library, which their EXTERNAL_SOURCE names. Instances of other files are named in the reference section of edition 3. Links that are
 * written alike are one link.
 */
export function readStepLinks(file: Part21File): WrittenLink[] {
  const links = new Map<string, WrittenLink>();
  const documents = file.idsOfType('DOCUMENT_FILE').concat(file.complexIdsWith('DOCUMENT_FILE'));
  if (documents.length > 0) readDocuments(file, documents, links);
  for (const { written, path, definition, memory } of readSources(file)) {
    const key = `source ${written}`;
    const place: WrittenPlace = { ...path, form: 'path' };
    const known = links.get(key);
    if (known) known.places.push(place);
    else
      links.set(key, { kind: 'source', written, definitions: [definition], places: [place], source: memory });
  }
  readAppearances(file, links);
  for (const { start, end, path } of outsideReferences(file)) {
    const written = pathInReference(decodedUri(path));
    if (written === undefined) continue;
    const key = `resource ${written}`;
    const place: WrittenPlace = { start, end, text: path, form: 'reference' };
    const known = links.get(key);
    if (known) known.places.push(place);
    else links.set(key, { kind: 'resource', written, definitions: [], places: [place] });
  }
  return [...links.values()];
}

/** Styles that stand in a library of appearances (ISO 10303-46): their EXTERNAL_SOURCE names its file. */
const STYLES_OUTSIDE = [
  'EXTERNALLY_DEFINED_STYLE',
  'EXTERNALLY_DEFINED_COLOUR',
  'EXTERNALLY_DEFINED_CURVE_FONT',
  'EXTERNALLY_DEFINED_HATCH_STYLE',
  'EXTERNALLY_DEFINED_TILE_STYLE',
];

function readAppearances(file: Part21File, links: Map<string, WrittenLink>): void {
  const sources = STYLES_OUTSIDE.flatMap((keyword) =>
    file.idsOfType(keyword).map((id) => file.referenceOf(id, 1)),
  );
  for (const source of new Set(sources)) {
    const string = file.stringOf(source, 0);
    if (!string || !looksLikeFileName(string.text)) continue;
    const { start, end, text } = string;
    const key = `resource ${text}`;
    const place: WrittenPlace = { start, end, text, form: 'path' };
    const known = links.get(key);
    if (known) known.places.push(place);
    else links.set(key, { kind: 'resource', written: text, definitions: [], places: [place] });
  }
}

/** The file is in UTF-8 since edition 3, and was read byte by byte. */
function decodedUri(latin1: string): string {
  return Buffer.from(latin1, 'latin1').toString('utf8');
}

function readDocuments(
  file: Part21File,
  documents: readonly number[],
  links: Map<string, WrittenLink>,
): void {
  const identifications = identificationsByItem(file);
  const products = productsByDocument(file);
  const sources = readDocumentSources(file);

  for (const document of documents) {
    const named = writtenName(file, document, identifications.get(document) ?? []);
    if (!named) continue;
    const definitions = products.get(document) ?? [];
    const source = sources.get(document);
    const kind = source
      ? 'source'
      : definitions.length > 0 && !isPaper(named.written)
        ? 'component'
        : 'attachment';
    const key = `${kind} ${named.written}`;
    const known = links.get(key);
    if (!known) {
      const link: WrittenLink = { kind, written: named.written, definitions, places: named.places };
      if (source) link.source = source;
      links.set(key, link);
    } else {
      known.definitions = [...new Set([...known.definitions, ...definitions])];
      const starts = new Set(known.places.map(({ start }) => start));
      known.places.push(...named.places.filter(({ start }) => !starts.has(start)));
    }
  }
}

/** The documents that name files of components, each with the PRODUCT_DEFINITIONs that stand for them. */
export function componentDocuments(file: Part21File): Map<number, number[]> {
  const identifications = identificationsByItem(file);
  const sources = readDocumentSources(file);
  const found = new Map<number, number[]>();
  for (const [document, definitions] of productsByDocument(file)) {
    const named = writtenName(file, document, identifications.get(document) ?? []);
    if (named && !isPaper(named.written) && !sources.has(document)) found.set(document, definitions);
  }
  return found;
}

const DEFINITIONS = ['PRODUCT_DEFINITION', 'PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS'];

/** A part may also point at its drawing or its data sheet: these follow the part but are no components. */
function isPaper(written: string): boolean {
  return /\.(pdf|docx?|xlsx?|txt|html?|md|png|jpe?g|svg|dxf)$/i.test(written);
}

function identificationsByItem(file: Part21File): Map<number, number[]> {
  const byItem = new Map<number, number[]>();
  for (const id of file.idsOfType('APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT')) {
    for (const item of file.referencesOf(id, 3)) append(byItem, item, id);
  }
  return byItem;
}

function writtenName(
  file: Part21File,
  document: number,
  identifications: number[],
): { written: string; places: WrittenPlace[] } | undefined {
  // 1. Every string that may hold a name or a folder, with its bytes, in the order in which it is believed.
  const strings: WrittenPlace[] = [];
  const collect = (string: WrittenString | undefined) => {
    if (string === undefined || string.text.trim() === '') return;
    strings.push({ start: string.start, end: string.end, text: string.text, form: 'path' });
  };
  for (const identification of identifications) {
    collect(file.stringOf(identification, 0));
    collect(file.stringOf(file.referenceOf(identification, 2), 0));
  }
  for (const string of documentStrings(file, document)) collect(string);

  // 2. The name: the first string that looks like a file name with an extension, else the first string at all.
  const best = strings.find(({ text }) => looksLikeFileName(text)) ?? strings[0];
  if (!best) return undefined;
  const name = baseName(best.text).toLowerCase();
  const places = strings.filter(({ text }) => text === best.text || baseName(text).toLowerCase() === name);

  // 3. The folder: a path among the places, or else an external source that is a folder.
  const withFolder = places.find(({ text }) => /[\\/]/.test(text));
  if (withFolder) return { written: withFolder.text, places };
  const folder =
    strings.find(
      ({ text, start }) => /[\\/]$/.test(text.trim()) && !places.some((place) => place.start === start),
    ) ?? sourceFolder(file, identifications, strings, places);
  if (!folder) return { written: best.text, places };
  const separator = folder.text.includes('\\') ? '\\' : '/';
  const joined = `${folder.text.trim().replace(/[\\/]+$/, '')}${separator}${best.text}`;
  return { written: joined, places: [...places, { ...folder, form: 'folder' }] };
}

/** Id and name of a DOCUMENT_FILE, which may be part of a complex instance. */
function documentStrings(file: Part21File, document: number): (WrittenString | undefined)[] {
  if (file.typeOf(document) !== '') return [file.stringOf(document, 0), file.stringOf(document, 1)];
  const found: WrittenString[] = [];
  const records =
    file.instance(document, (start, end, text) => found.push({ start, end, text }))?.records ?? [];
  const strings: WrittenString[] = [];
  for (const { keyword, parameters } of records) {
    for (const [position, parameter] of parameters.entries()) {
      if (textOf(parameter) === undefined) continue;
      const string = found.shift();
      if (string && keyword === 'DOCUMENT_FILE' && position < 2) strings.push(string);
    }
  }
  return strings;
}

/** An EXTERNAL_SOURCE such as `parts/bearings` or `C:\work`, written without a separator at its end. */
function sourceFolder(
  file: Part21File,
  identifications: number[],
  strings: WrittenPlace[],
  places: WrittenPlace[],
): WrittenPlace | undefined {
  for (const identification of identifications) {
    const source = file.stringOf(file.referenceOf(identification, 2), 0)?.text.trim();
    if (!source || looksLikeFileName(source)) continue;
    if (!/[\\/]/.test(source) && source !== '.' && !/^[\w .-]+$/.test(source)) continue;
    const string = strings.find(
      ({ text }) => text.trim() === source && !places.some(({ text: other }) => other === text),
    );
    if (string) return string;
  }
  return undefined;
}

function productsByDocument(file: Part21File): Map<number, number[]> {
  const byDocument = new Map<number, number[]>();
  const note = (document: number, definition: number) => {
    const known = byDocument.get(document);
    if (!known) byDocument.set(document, [definition]);
    else if (!known.includes(definition)) known.push(definition);
  };
  const definitionsOf = definitionFinder(file);

  // 1. A product definition that lists its documents itself.
  const filesOfDefinition = new Map<number, number[]>();
  for (const id of file.idsOfType('PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS')) {
    const listed = file.referencesOf(id, 4);
    filesOfDefinition.set(id, listed);
    for (const document of listed) note(document, id);
  }

  // 2. DOCUMENT -> the product definition of that document -> its DOCUMENT_FILEs.
  const filesOfDocument = new Map<number, number[]>();
  for (const id of file.idsOfType('DOCUMENT_PRODUCT_EQUIVALENCE')) {
    const document = file.referenceOf(id, 2);
    const about = file.referenceOf(id, 3);
    if (document === undefined || about === undefined) continue;
    for (const definition of definitionsOf(about)) {
      for (const listed of filesOfDefinition.get(definition) ?? []) {
        append(filesOfDocument, document, listed);
        byDocument.set(
          listed,
          (byDocument.get(listed) ?? []).filter((other) => other !== definition),
        );
      }
    }
  }

  // 3. APPLIED_DOCUMENT_REFERENCE: from a DOCUMENT or a DOCUMENT_FILE to what it describes.
  for (const id of file.idsOfType('APPLIED_DOCUMENT_REFERENCE')) {
    const document = file.referenceOf(id, 0);
    if (document === undefined) continue;
    const targets = filesOfDocument.get(document) ?? [document];
    for (const item of file.referencesOf(id, 2)) {
      for (const definition of definitionsOf(item)) for (const target of targets) note(target, definition);
    }
  }
  return byDocument;
}

/**
 * From a product, a formation, a definition or a definition's shape to the product definitions it means. Documents
 * mostly refer to definitions themselves; the rest is only looked for when one does not.
 */
export function definitionFinder(file: Part21File): (id: number) => number[] {
  let users: Map<number, number[]> | undefined;
  return (id) => {
    if (DEFINITIONS.includes(file.typeOf(id) ?? '')) return [id];
    users ??= usersOfFormations(file);
    return users.get(id) ?? [];
  };
}

function usersOfFormations(file: Part21File): Map<number, number[]> {
  const users = new Map<number, number[]>();
  const add = (key: number | undefined, definition: number) => {
    if (key !== undefined) append(users, key, definition);
  };
  for (const keyword of DEFINITIONS) {
    for (const definition of file.idsOfType(keyword)) {
      const formation = file.referenceOf(definition, 2);
      add(definition, definition);
      add(formation, definition);
      add(file.referenceOf(formation, 2), definition);
    }
  }
  for (const shape of file.idsOfType('PRODUCT_DEFINITION_SHAPE')) {
    const definition = file.referenceOf(shape, 2);
    if (definition !== undefined && users.has(definition)) add(shape, definition);
  }
  return users;
}
