import { builderAfter, extended, listRange } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import { Reference, Typed } from '#core/files/part21/parameters';
import { type Edit, splice } from '#core/files/part21/splice';

const ASSOCIATED = 'PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS';

/** The stand-ins that list their documents themselves, which few readers follow. */
export function associatedStandIns(file: Part21File, standIns: readonly number[]): number[] {
  return standIns.filter((definition) => file.typeOf(definition) === ASSOCIATED);
}

/**
 * The file with stand-ins that list their documents themselves written as plain product definitions, to which the documents
 * refer (APPLIED_DOCUMENT_REFERENCE), each with an identification that says where it lies. No other byte changes.
 */
export function withDocumentsReferring(bytes: Uint8Array, standIns: readonly number[]): Uint8Array {
  const file = Part21File.read(bytes);
  const builder = builderAfter(file);
  const referred = new Set(
    file
      .idsOfType('APPLIED_DOCUMENT_REFERENCE')
      .flatMap((id) => file.referencesOf(id, 2).map((item) => `${file.referenceOf(id, 0)} ${item}`)),
  );
  const identified = new Set(
    file.idsOfType('APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT').flatMap((id) => file.referencesOf(id, 3)),
  );
  let role: Reference | undefined;
  let external: Reference | undefined;
  const edits: Edit[] = [];
  for (const definition of associatedStandIns(file, standIns)) {
    for (const document of file.referencesOf(definition, 4)) {
      const reference = new Reference(document);
      if (!referred.has(`${document} ${definition}`))
        builder.add('APPLIED_DOCUMENT_REFERENCE', reference, '', [new Reference(definition)]);
      const written = file.stringOf(document, 0)?.text || file.stringOf(document, 1)?.text;
      if (identified.has(document) || !written) continue;
      identified.add(document);
      role ??= builder.add('IDENTIFICATION_ROLE', 'external document id and location', null);
      external ??= builder.add('EXTERNAL_SOURCE', new Typed('IDENTIFIER', ''));
      builder.add('APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT', written, role, external, [reference]);
    }
    edits.push(...asPlainDefinition(file, definition));
  }
  // What is added stands behind everything that is edited, so the places still hold.
  return splice(
    extended(file, builder, []),
    edits.sort((a, b) => a.start - b.start),
  );
}

/** Another keyword, and the list of documents with the comma before it taken out. */
function asPlainDefinition(file: Part21File, definition: number): Edit[] {
  const { content } = file.contentOf(definition)!;
  const list = listRange(file, definition, 4)!;
  let comma = list.start;
  while (file.bytes[comma] !== 0x2c) comma--;
  return [
    { start: content, end: content + ASSOCIATED.length, content: Buffer.from('PRODUCT_DEFINITION') },
    { start: comma, end: list.end },
  ];
}
