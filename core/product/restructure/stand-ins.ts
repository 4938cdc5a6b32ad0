import { builderAfter, instancesEdit, listEdit } from '#core/files/part21/extend';
import type { Part21File } from '#core/files/part21/file';
import { referenceOf } from '#core/files/part21/parameters';
import { NOWHERE, ReferenceTable } from '#core/files/part21/references';
import { removal } from '#core/files/part21/remove';
import { type Edit, splice } from '#core/files/part21/splice';
import { append } from '#core/multimap';
import { axisPlacement } from '#core/product/placements';
import { addAxisPlacement } from '#core/product/write-geometry';
import { HEAD_PARTS, headsOf, millimetresOf, type ProductHead, placementsUsed, placingItems } from './heads';
import { listsOf } from './references';

/** Stand-ins of one file that stand for the same part, and how many millimetres that part's unit is. */
export interface SamePart {
  definitions: readonly number[];
  millimetres: number;
}

/**
 * The file with one stand-in for each part: what referred to another of them refers to the first; and with the axis placements by which
 * it is placed in the part's unit, as the part itself will hold them. The same bytes where that is so already.
 */
export function withOneStandInEach(file: Part21File, parts: readonly SamePart[]): Uint8Array {
  const heads = headsOf(
    file,
    parts.flatMap(({ definitions }) => definitions),
  );
  const used = placingItems(file);
  let placings: Map<string, number[]> | undefined;
  const builder = builderAfter(file);
  /** New numbers by position. */
  const everywhere = new Map<number, number>();
  const inOne = new Map<number, Map<number, number>>();
  const removed = new Set<number>();
  const edits: Edit[] = [];
  for (const { definitions, millimetres } of parts) {
    // The one with a shape, by which it can be placed.
    const [first, ...others] = definitions
      .map((definition) => heads.get(definition)!)
      .sort((a, b) => Number(b.representation !== undefined) - Number(a.representation !== undefined));
    const items: number[] = [];
    let isChanged = others.length > 0;
    for (const { representation } of [first!, ...others]) {
      if (representation === undefined) continue;
      const own = millimetresOf(file, representation);
      for (const item of placementsUsed(file, representation, used)) {
        const placement = axisPlacement(file, item, own);
        const isAtOrigin = !placement || [3, 7, 11].every((n) => placement[n] === 0);
        if (own === millimetres || isAtOrigin) items.push(item);
        else {
          const { id } = addAxisPlacement(builder, placement, millimetres);
          items.push(id);
          isChanged = true;
          placings ??= placingsBy(file);
          for (const placing of placings.get(`${representation} ${item}`) ?? []) {
            const position = file.position(placing)!;
            inOne.set(position, (inOne.get(position) ?? new Map()).set(file.position(item)!, id));
          }
        }
      }
    }
    if (isChanged && first!.representation !== undefined && items.length > 0)
      edits.push(listEdit(file, first!.representation, 1, [...new Set(items)]));
    for (const other of others) lead(file, other, first!, { everywhere, removed });
  }
  if (everywhere.size === 0 && inOne.size === 0 && edits.length === 0) return file.bytes;
  edits.push(...ledEdits(file, { everywhere, inOne, removed }, new Set(edits.map(({ start }) => start))));
  for (const position of removed) edits.push(removal(file, position));
  return splice(
    file.bytes,
    [...edits, ...instancesEdit(file, builder)].sort((a, b) => a.start - b.start || a.end - b.end),
  );
}

/** What places representations by their items, by the numbers of both. */
function placingsBy(file: Part21File): Map<string, number[]> {
  const found = new Map<string, number[]>();
  for (const id of file.complexIdsWith('REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')) {
    const pair =
      file.entity(id, 'REPRESENTATION_RELATIONSHIP') ?? file.entity(id, 'SHAPE_REPRESENTATION_RELATIONSHIP');
    const operator = referenceOf(file.entity(id, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')?.at(-1));
    if (operator === undefined) continue;
    for (const representation of [referenceOf(pair?.[2]), referenceOf(pair?.[3])])
      for (const item of [file.referenceOf(operator, 2), file.referenceOf(operator, 3)])
        append(found, `${representation} ${item}`, operator);
  }
  for (const id of file.idsOfType('REPRESENTATION_MAP'))
    append(found, `${file.referenceOf(id, 1)} ${file.referenceOf(id, 0)}`, id);
  return found;
}

/** Lets one head take the place of another. */
function lead(
  file: Part21File,
  from: ProductHead,
  to: ProductHead,
  { everywhere, removed }: { everywhere: Map<number, number>; removed: Set<number> },
): void {
  for (const part of HEAD_PARTS) {
    const position = file.position(from[part] ?? 0);
    const target = to[part];
    if (position === undefined || target === undefined || from[part] === target) continue;
    everywhere.set(position, target);
    removed.add(position);
  }
}

interface Led {
  everywhere: ReadonlyMap<number, number>;
  inOne: ReadonlyMap<number, ReadonlyMap<number, number>>;
  removed: ReadonlySet<number>;
}

/** References as they lead now; a list names each once. @param written where lists stand that are written anew already */
function ledEdits(
  file: Part21File,
  { everywhere, inOne, removed }: Led,
  written: ReadonlySet<number>,
): Edit[] {
  const { first, targets, starts, lengths } = ReferenceTable.of(file);
  const edits: Edit[] = [];
  for (let position = 0; position < file.index.count; position++) {
    if (removed.has(position)) continue;
    const own = inOne.get(position);
    const leadsTo = (target: number) => own?.get(target) ?? everywhere.get(target);
    let isLed = false;
    for (let at = first[position]!; at < first[position + 1]! && !isLed; at++)
      isLed = targets[at] !== NOWHERE && leadsTo(targets[at]!) !== undefined;
    if (!isLed) continue;
    const id = file.index.ids[position]!;
    const lists = listsOf(file, id).flatMap(({ position: place, items }) => {
      const led = items.map((item) => leadsTo(file.position(item) ?? NOWHERE) ?? item);
      return led.some((item, n) => item !== items[n]) ? [listEdit(file, id, place, [...new Set(led)])] : [];
    });
    edits.push(...lists.filter(({ start }) => !written.has(start)));
    for (let at = first[position]!; at < first[position + 1]!; at++) {
      const to = targets[at] === NOWHERE ? undefined : leadsTo(targets[at]!);
      const start = starts[at]!;
      if (to === undefined || lists.some((list) => list.start <= start && start < list.end)) continue;
      edits.push({ start, end: start + lengths[at]!, content: Buffer.from(`#${to}`) });
    }
  }
  return edits;
}
