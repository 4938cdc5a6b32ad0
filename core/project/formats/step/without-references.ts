import { listEdit } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import { removal } from '#core/files/part21/remove';
import { type Edit, splice } from '#core/files/part21/splice';
import { targetsOf, Users, withoutGone } from '#core/product/restructure/references';
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
  const going = new GoingDocuments(file, new Set(standIns));
  return splice(
    file.bytes,
    going.edits().sort((a, b) => a.start - b.start),
  );
}

class GoingDocuments {
  private readonly users: Users;
  /** Positions. */
  private readonly going = new Set<number>();
  private readonly lists = new Map<number, Edit[]>();
  /** What the stand-ins are themselves: it stays, whatever it refers to. */
  private readonly stays = new Set<number>();

  constructor(
    private readonly file: Part21File,
    private readonly standIns: ReadonlySet<number>,
  ) {
    this.users = new Users(file);
    for (const definition of standIns) {
      const formation = file.referenceOf(definition, 2);
      for (const id of [definition, formation, file.referenceOf(formation, 2)]) {
        const position = file.position(id ?? 0);
        if (position !== undefined) this.stays.add(position);
      }
    }
  }

  edits(): Edit[] {
    const { file, standIns, going, lists } = this;
    // 1. Documents that are about these stand-ins alone; of others, only what ties them to these.
    const documents = new Set<number>();
    const tied = new Set<number>();
    for (const [document, definitions] of componentDocuments(file)) {
      if (!definitions.some((definition) => standIns.has(definition))) continue;
      tied.add(document);
      if (definitions.every((definition) => standIns.has(definition))) documents.add(document);
    }
    const wholes = this.goWithProducts(documents, tied);
    for (const document of documents) this.go(file.position(document)!);

    // 2. What ties the others.
    const definitionsOf = definitionFinder(file);
    for (const id of file.idsOfType('APPLIED_DOCUMENT_REFERENCE')) {
      const position = file.position(id)!;
      const document = file.referenceOf(id, 0);
      if (going.has(position) || document === undefined || !(tied.has(document) || wholes.has(document)))
        continue;
      const items = file.referencesOf(id, 2);
      const left = items.filter((item) => !definitionsOf(item).some((one) => standIns.has(one)));
      if (left.length === 0) this.go(position);
      else if (left.length < items.length) lists.set(position, [listEdit(file, id, 2, left)]);
    }

    // 3. What only they needed.
    this.goOrphans();
    return [
      ...[...lists].flatMap(([position, edits]) => (going.has(position) ? [] : edits)),
      ...[...going].map((position) => removal(file, position)),
    ];
  }

  /** Documents that are products of their own go with those. @returns the DOCUMENTs by which they are referred to */
  private goWithProducts(documents: ReadonlySet<number>, tied: ReadonlySet<number>): Set<number> {
    const { file } = this;
    const wholes = new Set<number>();
    const wholesOf = new Map<number, number[]>();
    for (const id of file.idsOfType('DOCUMENT_PRODUCT_EQUIVALENCE')) {
      const [whole, about] = [file.referenceOf(id, 2), file.referenceOf(id, 3)];
      if (whole !== undefined && about !== undefined)
        wholesOf.set(about, [...(wholesOf.get(about) ?? []), whole]);
    }
    for (const definition of file.idsOfType('PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS')) {
      const listed = file.referencesOf(definition, 4);
      if (this.standIns.has(definition) || !listed.some((document) => tied.has(document))) continue;
      const formation = file.referenceOf(definition, 2);
      const product = file.referenceOf(formation, 2);
      const ofThem = [definition, formation, product].flatMap((id) => wholesOf.get(id ?? 0) ?? []);
      for (const whole of ofThem) wholes.add(whole);
      if (!listed.every((document) => documents.has(document))) continue;
      for (const id of [definition, formation, product, ...ofThem]) {
        const position = file.position(id ?? 0);
        if (position !== undefined) this.go(position);
      }
    }
    return wholes;
  }

  /** An instance goes, and what refers to it; a list that names others too is kept without it. */
  private go(start: number): void {
    const { file, going, lists } = this;
    const open = [start];
    for (let position = open.pop(); position !== undefined; position = open.pop()) {
      if (going.has(position) || this.stays.has(position)) continue;
      going.add(position);
      for (const user of this.users.of(position)) {
        if (going.has(user) || this.stays.has(user)) continue;
        const edits = withoutGone(file, file.index.ids[user]!, (id) => going.has(file.position(id) ?? -1));
        if (edits) lists.set(user, edits);
        else open.push(user);
      }
    }
  }

  private goOrphans(): void {
    const { file, going } = this;
    const open = [...going];
    for (let position = open.pop(); position !== undefined; position = open.pop())
      for (const target of targetsOf(file, position)) {
        if (going.has(target) || this.stays.has(target)) continue;
        if (!this.users.of(target).every((user) => going.has(user))) continue;
        going.add(target);
        open.push(target);
      }
  }
}
