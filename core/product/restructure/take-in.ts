import { Copies, copiedText } from '#core/files/part21/copy';
import { builderWithRoom, listEdit } from '#core/files/part21/extend';
import type { Part21File } from '#core/files/part21/file';
import { parameterStart } from '#core/files/part21/one-parameter';
import { skipBlank } from '#core/files/part21/parameters';
import { removal } from '#core/files/part21/remove';
import { type Edit, splice } from '#core/files/part21/splice';
import type { Part21Builder } from '#core/files/part21/write';
import { Refusal } from '#core/refusal';
import { HEAD_PARTS, headsOf, type ProductHead, placementsUsed, placingItems } from './heads';
import { orphansOf, targetsOf, Users } from './references';

/*
 * The contents of files take the places of the stand-ins for them. The product of such a file gets the numbers of its stand-in, so that
 * what placed the stand-in places it; everything else of the file is copied under new numbers. The axis placements by which the stand-in
 * was placed become items of the file's representation. All files at once: each text is read and written once.
 */

/** A file, and what its stand-ins that are taken in stand for: paths by PRODUCT_DEFINITION, each path once. */
export interface Text {
  file: Part21File;
  standIns: ReadonlyMap<number, string>;
}

/** A file that is taken in: the one product that it is about. */
export interface TakenText extends Text {
  /** Its PRODUCT_DEFINITION. */
  product: number;
}

/**
 * The assembly with the contents of files in the place of its stand-ins for them, and of theirs for each other. The stand-ins refer to no
 * documents any more, and are placed in the units of their parts (`withOneStandInEach`).
 * @throws Refusal for a part without a shape that can be placed
 */
export function takeIn(assembly: Text, parts: ReadonlyMap<string, TakenText>): Uint8Array {
  return new TakingIn(assembly, parts).bytes();
}

/** What says of a product what it is made for: one for all products of a file that say the same. */
const CONTEXTS = [
  'APPLICATION_CONTEXT',
  'APPLICATION_PROTOCOL_DEFINITION',
  'PRODUCT_CONTEXT',
  'MECHANICAL_CONTEXT',
  'PRODUCT_DEFINITION_CONTEXT',
  'DESIGN_CONTEXT',
];

class TakingIn {
  private readonly builder: Part21Builder;
  /** The heads of the parts as they are numbered in the assembly. */
  private readonly numbers = new Map<string, ProductHead>();
  /** The heads of the stand-ins in the assembly. */
  private readonly standIns: ReadonlyMap<number, ProductHead>;
  private readonly contexts = new Map<string, number>();
  /** Axis placements by which each part is placed, as numbered in the assembly. */
  private readonly placements = new Map<string, number[]>();
  /** Numbers in the assembly that what is taken in refers to. */
  private readonly referred = new Set<number>();

  constructor(
    private readonly assembly: Text,
    private readonly parts: ReadonlyMap<string, TakenText>,
  ) {
    const { file, standIns } = assembly;
    let count = 0;
    for (const part of parts.values()) count += part.file.index.count;
    this.builder = builderWithRoom(file, count + HEAD_PARTS.length * parts.size);
    this.standIns = headsOf(file, standIns.keys());
    const headOf = new Map([...standIns].map(([definition, path]) => [path, this.standIns.get(definition)!]));
    for (const [path, { file: own, product }] of parts) {
      const head = headsOf(own, [product]).get(product)!;
      if (head.representation === undefined || own.typeOf(head.representation) === '')
        throw new Refusal(`${path} has no shape that could stand in another file.`);
      const numbered: ProductHead = { definition: 0 };
      for (const part of HEAD_PARTS)
        if (head[part] !== undefined) numbered[part] = headOf.get(path)?.[part] ?? this.builder.reserve().id;
      this.numbers.set(path, numbered);
    }
  }

  bytes(): Uint8Array {
    const { file } = this.assembly;
    const { ids } = file.index;
    for (const position of contextPositions(file))
      this.contexts.set(
        textOf(file, position, (target) => ids[target]),
        ids[position]!,
      );
    this.notePlacements(this.assembly, (item) => {
      this.referred.add(item);
      return item;
    });

    // 1. Everything of the parts but what takes the place of a stand-in.
    const pieces: Uint8Array[] = [];
    const copiesOf = new Map<string, Copies>();
    for (const [path, part] of this.parts) {
      const copies = new Copies(part.file);
      copiesOf.set(path, copies);
      const wanted = this.numbered(path, part, copies);
      pieces.push(copiedText(part.file, wanted, copies));
      this.notePlacements(part, (item) => copies.get(item)?.id);
    }

    // 2. That takes its place, or stands with the rest where nothing in the assembly itself stood for it.
    const replaced = new Map<number, Uint8Array>();
    for (const [path, { file: own, product }] of this.parts) {
      const head = headsOf(own, [product]).get(product)!;
      const numbers = this.numbers.get(path)!;
      for (const part of HEAD_PARTS) {
        const [from, to] = [head[part], numbers[part]];
        if (from === undefined || to === undefined) continue;
        let text = copiedText(own, Uint32Array.of(own.position(from)!), copiesOf.get(path)!);
        if (part === 'representation') text = withItems(text, this.placements.get(path) ?? []);
        const there = file.position(to);
        if (there === undefined) pieces.push(text);
        else replaced.set(there, text.subarray(0, -1));
      }
    }
    return this.written(replaced, pieces);
  }

  /** Says what each instance of a part becomes. @returns positions of those that are copied as they are */
  private numbered(path: string, { file, product, standIns }: TakenText, copies: Copies): Uint32Array {
    const gone = new Set<number>();
    const lead = (id: number | undefined, to: number | undefined) => {
      const position = id === undefined ? undefined : file.position(id);
      if (position === undefined || to === undefined) return;
      copies.lead(position, to);
      gone.add(position);
    };
    const own = headsOf(file, [product]).get(product)!;
    const numbers = this.numbers.get(path)!;
    for (const part of HEAD_PARTS) lead(own[part], numbers[part]);
    if (standIns.size > 0) this.leadStandIns(file, standIns, { lead, gone });
    for (const position of contextPositions(file)) {
      const text = textOf(file, position, (target) =>
        copies.hasPosition(target) ? copies.numbers[target] : undefined,
      );
      const known = this.contexts.get(text);
      if (known === undefined) {
        const { id } = this.builder.reserve();
        copies.lead(position, id);
        this.contexts.set(text, id);
        continue;
      }
      copies.lead(position, known);
      this.referred.add(known);
      gone.add(position);
    }
    const wanted = new Uint32Array(file.index.count - gone.size);
    let count = 0;
    for (let position = 0; position < file.index.count; position++)
      if (!gone.has(position)) wanted[count++] = position;
    copies.number(wanted, this.builder);
    return wanted;
  }

  /** The stand-ins of a part become what they stand for; what nothing else needed does not come along. */
  private leadStandIns(
    file: Part21File,
    standIns: ReadonlyMap<number, string>,
    { lead, gone }: { lead(id: number | undefined, to: number | undefined): void; gone: Set<number> },
  ): void {
    const users = new Users(file);
    const standing = new Set<number>();
    const products = new Set<number>();
    for (const [definition, head] of headsOf(file, standIns.keys())) {
      const numbers = this.numbers.get(standIns.get(definition)!)!;
      if (head.product !== undefined) products.add(head.product);
      for (const part of HEAD_PARTS) {
        const position = file.position(head[part] ?? 0);
        if (position === undefined || numbers[part] === undefined) continue;
        lead(head[part], numbers[part]);
        standing.add(position);
      }
    }
    for (const id of file.idsOfType(CATEGORY)) {
      const position = file.position(id)!;
      if (users.of(position).length > 0 || !file.referencesOf(id, 2).every((one) => products.has(one)))
        continue;
      gone.add(position);
      standing.add(position);
    }
    for (const position of orphansOf(file, users, standing)) gone.add(position);
  }

  private notePlacements({ file, standIns }: Text, numberOf: (item: number) => number | undefined): void {
    if (standIns.size === 0) return;
    const used = placingItems(file);
    for (const [definition, { representation }] of headsOf(file, standIns.keys())) {
      if (representation === undefined) continue;
      const path = standIns.get(definition)!;
      const known = this.placements.get(path) ?? [];
      for (const item of placementsUsed(file, representation, used)) {
        const number = numberOf(item);
        if (number !== undefined) known.push(number);
      }
      this.placements.set(path, known);
    }
  }

  /** The assembly with what takes the place of its stand-ins, and the rest behind its last instance. */
  private written(replaced: ReadonlyMap<number, Uint8Array>, pieces: readonly Uint8Array[]): Uint8Array {
    const { file, standIns } = this.assembly;
    const { starts, ends } = file.index;
    const users = new Users(file);
    const edits: Edit[] = [...replaced].map(([position, content]) => ({
      start: starts[position]!,
      end: ends[position]!,
      content,
    }));
    // The part says itself what kind of product it is.
    const gone = new Set(replaced.keys());
    const categorised = new Set<number>();
    for (const [definition, path] of standIns) {
      const { file: own, product } = this.parts.get(path)!;
      const head = headsOf(own, [product]).get(product)!;
      const isIn = (id: number) => own.referencesOf(id, 2).includes(head.product ?? 0);
      if (own.idsOfType(CATEGORY).some(isIn)) categorised.add(this.standIns.get(definition)!.product ?? 0);
    }
    for (const id of file.idsOfType(CATEGORY)) {
      const products = file.referencesOf(id, 2);
      const left = products.filter((product) => !categorised.has(product));
      if (left.length === products.length) continue;
      const position = file.position(id)!;
      if (left.length > 0) edits.push(listEdit(file, id, 2, left));
      else if (users.of(position).length === 0) {
        gone.add(position);
        edits.push(removal(file, position));
      }
    }
    for (const position of orphansOf(file, users, gone, (one) => this.referred.has(file.index.ids[one]!)))
      edits.push(removal(file, position));
    let last = 0;
    for (let n = 0; n < file.index.count; n++) last = Math.max(last, ends[n]!);
    const added = Buffer.concat([Buffer.from('\n'), ...pieces, this.builder.instances()]);
    edits.push({ start: last, end: last, content: added.subarray(0, -1) });
    return splice(
      file.bytes,
      edits.sort((a, b) => a.start - b.start || a.end - b.end),
    );
  }
}

const CATEGORY = 'PRODUCT_RELATED_PRODUCT_CATEGORY';

/** Positions of contexts, what is referred to before what refers to it. */
function contextPositions(file: Part21File): number[] {
  return CONTEXTS.flatMap((keyword) => file.idsOfType(keyword).map((id) => file.position(id)!));
}

/** The text of an instance with other numbers, without blanks. */
function textOf(
  file: Part21File,
  position: number,
  numberOf: (target: number) => number | undefined,
): string {
  const { contents, ends } = file.index;
  const text = Buffer.from(file.bytes.subarray(contents[position]!, ends[position]!)).toString('latin1');
  const [targets, seen] = [targetsOf(file, position), { count: 0 }];
  return text
    .replace(/'(?:[^']|'')*'|#\d+/g, (found) =>
      found.startsWith('#') ? `#${numberOf(targets[seen.count++]!) ?? `?${position}`}` : found,
    )
    .replace(/\s+(?=(?:[^']*'[^']*')*[^']*$)/g, '');
}

/** An instance's text with more in the list that is its second parameter. */
function withItems(text: Uint8Array, items: readonly number[]): Uint8Array {
  if (items.length === 0) return text;
  const buffer = Buffer.from(text);
  const keyword = buffer.indexOf('=') + 1;
  const open = skipBlank(text, buffer.indexOf('(', keyword), text.length);
  const list = parameterStart(text, open, text.length, 1);
  const close = buffer.indexOf(')', list);
  const isEmpty = skipBlank(text, list + 1, close) === close;
  const added = items.map((item) => `#${item}`).join(',');
  return splice(text, [{ start: close, end: close, content: Buffer.from(isEmpty ? added : `,${added}`) }]);
}
