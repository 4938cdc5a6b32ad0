import type { Part21File } from '#core/files/part21/file';
import { bodyIn, digestIn, type SourceMemory } from './memory';

/*
 * How sources were written before they were properties: as a further external document of the product, with identifications
 * of that document. Such files stay readable; whoever writes one anew renews it (core/project/formats/step/renew-sources), because other readers
 * take that document for a part to be loaded.
 */

const TYPE = 'split source';
const DIGEST = 'content digest';
const ITEM = 'item of source';

/** Whether bytes can hold sources in this form; a search, several times faster than reading the file. */
export function mayHoldDocumentSources(bytes: Uint8Array): boolean {
  return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).includes(`'${TYPE}'`);
}

/** What each DOCUMENT_FILE that is a source says about it, by its number. */
export function readDocumentSources(file: Part21File): Map<number, SourceMemory> {
  const memories = new Map<number, SourceMemory>();
  const types = new Set(
    file.idsOfType('DOCUMENT_TYPE').filter((type) => file.stringOf(type, 0)?.text === TYPE),
  );
  if (types.size === 0) return memories;
  for (const document of file.idsOfType('DOCUMENT_FILE'))
    if (types.has(file.referenceOf(document, 3) ?? -1))
      memories.set(document, { relation: 'split', sha256: null, bodies: [] });
  for (const id of file.idsOfType('APPLIED_IDENTIFICATION_ASSIGNMENT')) {
    const text = file.stringOf(id, 0)?.text ?? '';
    const role = file.stringOf(file.referenceOf(id, 1), 0)?.text;
    for (const item of file.referencesOf(id, 2)) {
      const memory = memories.get(item);
      if (role === DIGEST && memory) memory.sha256 = digestIn(text);
      else if (role === ITEM) memory?.bodies.push(...bodyIn(text));
    }
  }
  return memories;
}

/** Those documents whose path is written so, in the document itself or in an assigned id. */
export function documentsOfSource(file: Part21File, documents: Iterable<number>, written: string): number[] {
  const assignments = file.idsOfType('APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT');
  return [...documents].filter((document) =>
    [document, ...assignments.filter((id) => file.referencesOf(id, 3).includes(document))].some(
      (id) => file.stringOf(id, 0)?.text === written,
    ),
  );
}
