import { listEdit } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import { splice } from '#core/files/part21/splice';
import { append } from '#core/multimap';
import { Going } from '#core/product/restructure/going';
import { componentDocuments, definitionFinder } from './links';
import { associatedStandIns, withDocumentsReferring } from './renew-documents';

/**
 * The file with some of its stand-ins referring to no file any more, whatever the form (ISO 10303-41, external_reference_schema and
 * document_schema): without the documents that name a file for them alone, all that says more of those, and the document's own product
 * where it is one. Papers of the part stay. No other byte changes.
 * @param standIns PRODUCT_DEFINITIONs
 */
export function withoutReferences(before: Uint8Array, standIns: readonly number[]): Uint8Array {
  let file = Part21File.read(before);
  if (associatedStandIns(file, standIns).length > 0)
    file = Part21File.read(withDocumentsReferring(before, standIns));
  const leaving = new Set(standIns);
  const going = new Going(file);
  for (const definition of standIns) {
    const formation = file.referenceOf(definition, 2);
    for (const id of [definition, formation, file.referenceOf(formation, 2)]) going.keep(id);
  }

  // 1. Documents that are about these stand-ins alone; of others, only what ties them to these.
  const documents = new Set<number>();
  const tied = new Set<number>();
  for (const [document, definitions] of componentDocuments(file)) {
    if (!definitions.some((definition) => leaving.has(definition))) continue;
    tied.add(document);
    if (definitions.every((definition) => leaving.has(definition))) documents.add(document);
  }
  for (const whole of goWithProducts(file, going, { standIns: leaving, documents, tied })) tied.add(whole);
  for (const document of documents) going.go(document);

  // 2. What ties the others.
  const definitionsOf = definitionFinder(file);
  for (const id of file.idsOfType('APPLIED_DOCUMENT_REFERENCE')) {
    const position = file.position(id)!;
    const document = file.referenceOf(id, 0);
    if (going.has(position) || document === undefined || !tied.has(document)) continue;
    const items = file.referencesOf(id, 2);
    const left = items.filter((item) => !definitionsOf(item).some((one) => leaving.has(one)));
    if (left.length === 0) going.go(id);
    else if (left.length < items.length) going.write(position, [listEdit(file, id, 2, left)]);
  }

  // 3. What only they needed.
  going.goOrphans();
  return splice(
    file.bytes,
    going.edits().sort((a, b) => a.start - b.start),
  );
}

interface Documents {
  standIns: ReadonlySet<number>;
  /** Those that go. */
  documents: ReadonlySet<number>;
  /** Those, and others that are about stand-ins that stay, too. */
  tied: ReadonlySet<number>;
}

/** Documents that are products of their own go with those. @returns the DOCUMENTs by which they are referred to */
function goWithProducts(file: Part21File, going: Going, { standIns, documents, tied }: Documents): number[] {
  const wholesOf = new Map<number, number[]>();
  for (const id of file.idsOfType('DOCUMENT_PRODUCT_EQUIVALENCE')) {
    const [whole, about] = [file.referenceOf(id, 2), file.referenceOf(id, 3)];
    if (whole !== undefined && about !== undefined) append(wholesOf, about, whole);
  }
  const wholes: number[] = [];
  for (const definition of file.idsOfType('PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS')) {
    const listed = file.referencesOf(definition, 4);
    if (standIns.has(definition) || !listed.some((document) => tied.has(document))) continue;
    const formation = file.referenceOf(definition, 2);
    const product = file.referenceOf(formation, 2);
    const ofThem = [definition, formation, product].flatMap((id) => wholesOf.get(id ?? 0) ?? []);
    wholes.push(...ofThem);
    if (listed.every((document) => documents.has(document)))
      for (const id of [definition, formation, product, ...ofThem]) going.go(id);
  }
  return wholes;
}
