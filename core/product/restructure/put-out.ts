import { builderAfter, instancesEdit, listEdit } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import { Reference } from '#core/files/part21/parameters';
import { NOWHERE, ReferenceTable } from '#core/files/part21/references';
import { removal } from '#core/files/part21/remove';
import { endOfRun } from '#core/files/part21/runs';
import { type Edit, splice } from '#core/files/part21/splice';
import { Part21Builder, writeInstance } from '#core/files/part21/write';
import { addCounts, append } from '#core/multimap';
import { IDENTITY } from '#core/product/matrix';
import { readStructure } from '#core/product/structure';
import { lengthUnitOfContext } from '#core/product/units';
import { addDocument } from '#core/product/write-components';
import { addAxisPlacement } from '#core/product/write-geometry';
import { Refusal } from '#core/refusal';
import { Anchors, type Belonging, BOTH, belongingTo, INSIDE, OUTSIDE } from './belonging';
import { listsOf, targetsOf, Users, withoutGone } from './references';

/*
 * An in-file component becomes a file with all that belongs to it, and a reference takes its place. What refers to nothing but the
 * component goes; lists that name it among others are shared out; what others need too is in both files. The stand-in keeps the
 * PRODUCT, its formation and definition, and a SHAPE_REPRESENTATION of the axis placements by which it is placed.
 */

/** A component that becomes a file. */
export interface ComponentToPutOut {
  /** Its PRODUCT_DEFINITION. */
  definition: number;
  /** Name of the new file in its header. */
  fileName: string;
  /** ISO 8601 without zone. */
  timeStamp: string;
  /** The path of the new file as it shall stand in the assembly. */
  written: string;
}

export interface PutOut {
  /** The assembly with the reference. */
  assembly: Uint8Array;
  /** The new file. */
  component: Uint8Array;
  /** What could go with neither of them: entity types, with how many there were. */
  lost: Map<string, number>;
  /** Products below the component that something else places too: they are in both files. */
  copied: number[];
}

/** @throws Refusal for a component that nothing places, or that has no shape */
export function putOut(anchors: Anchors, component: ComponentToPutOut): PutOut {
  const { inside, ...put } = putOutTogether(anchors, [component]);
  return { ...put, component: inside };
}

/** An assembly in which some components, none of which is part of another, are files elsewhere. @throws Refusal as for one */
export function withComponentsOutside(
  anchors: Anchors,
  components: readonly ComponentToPutOut[],
): Pick<PutOut, 'assembly' | 'lost'> {
  return putOutTogether(anchors, components);
}

/**
 * Several components at once, none of which is part of another. In halves, and halves of those: cost grows with the size of the file and
 * the logarithm of how many they are.
 * @param isRestWanted whether the assembly is asked for, too
 * @returns the assembly, and the new files by PRODUCT_DEFINITION
 * @throws Refusal as for one
 */
export function putOutSeveral(
  anchors: Anchors,
  components: readonly ComponentToPutOut[],
  isRestWanted = true,
): Omit<PutOut, 'component'> & { files: Map<number, Uint8Array> } {
  const [one, ...more] = components;
  const { assembly, inside, lost, copied } = putOutTogether(anchors, components, isRestWanted);
  if (more.length === 0) return { assembly, files: new Map([[one!.definition, inside]]), lost, copied };
  const files = new Map<number, Uint8Array>();
  const half = components.length >> 1;
  let rest = inside;
  const halves = [components.slice(0, half), components.slice(half)];
  for (const [n, some] of halves.entries()) {
    const text = Part21File.read(rest);
    const put = putOutSeveral(new Anchors(text, readStructure(text).products), some, n === 0);
    for (const [definition, bytes] of put.files) files.set(definition, bytes);
    addCounts(lost, put.lost);
    copied.push(...put.copied);
    rest = put.assembly;
  }
  return { assembly, files, lost, copied };
}

/** Components that become one text together, which is a file where it is one of them. */
function putOutTogether(
  anchors: Anchors,
  components: readonly ComponentToPutOut[],
  isRestWanted = true,
): Omit<PutOut, 'component'> & { inside: Uint8Array } {
  const { file } = anchors;
  const definitions = new Set(components.map(({ definition }) => definition));
  const below = productsBelow(anchors, [...definitions]);
  const others = productsBelow(
    anchors,
    anchors.products.flatMap(({ definition: other }) => (below.has(other) ? [] : [other])),
    definitions,
  );
  const own = new Set([...below].filter((one) => definitions.has(one) || !others.has(one)));
  const going = belongingTo(anchors, below);
  const staying = own.size === below.size ? going : belongingTo(anchors, own);
  const lost = new Map<string, number>();
  const inside = componentFile(file, going, components[0]!);
  // Of the last ones of a text nobody asks what is left of it.
  const assembly = isRestWanted
    ? withStandIns(anchors, staying, components, lost, inside.shared)
    : file.bytes;
  return { assembly, inside: inside.bytes, lost, copied: [...below].filter((one) => !own.has(one)) };
}

/** Products that some products place, at any depth, themselves included. @param except those that are not gone below */
function productsBelow(
  { usages, products }: Anchors,
  starts: readonly number[],
  except?: ReadonlySet<number>,
): Set<number> {
  const children = new Map<number, number[]>();
  for (const { parent, child } of usages) append(children, parent, child);
  // Some assemblies place by mapped items alone.
  for (const { definition, occurrences } of products)
    for (const { child } of occurrences) append(children, definition, child);
  const found = new Set(starts);
  for (const one of found)
    if (!except?.has(one)) for (const child of children.get(one) ?? []) found.add(child);
  return found;
}

/** The instances that go, what they need, and of lists that name others too the part that is theirs. */
function componentFile(
  file: Part21File,
  { about, reaches, anchored }: Belonging,
  { fileName, timeStamp }: { fileName: string; timeStamp: string },
): { bytes: Uint8Array; shared: ReadonlySet<number> } {
  const { ids, count } = file.index;
  const table = ReferenceTable.of(file);
  const isIn = (id: number) => about[file.position(id) ?? -1] === INSIDE;
  const lists = new Map<number, Edit[]>();
  const starts: number[] = [];
  const outside: number[] = [];
  for (let position = 0; position < count; position++) {
    if (about[position] === INSIDE) starts.push(position);
    else if (about[position] === OUTSIDE) outside.push(position);
    else if (about[position] === BOTH && !anchored[position]) {
      const share = sharedOut(file, ids[position]!, isIn, reaches);
      if (!share) continue;
      lists.set(position, share.edits);
      starts.push(...share.needs);
    }
  }
  const closed = new Uint8Array(count);
  for (const position of table.closure(starts)) closed[position] = 1;
  for (const position of lists.keys()) closed[position] = 1;
  const elsewhere = new Uint8Array(count);
  const loose = unreferred(file, about);
  if (loose.length > 0) for (const position of table.closure(outside)) elsewhere[position] = 1;
  for (const position of loose) {
    // The protocol of a context that is there, and what says where a document is that is the component's alone.
    const needs = table.closure([position]);
    const isTheirs = needs.some((one) => one !== position && closed[one] && !elsewhere[one]);
    if (!isTheirs && !targetsOf(file, position).every((target) => closed[target])) continue;
    for (const one of needs) closed[one] = 1;
  }
  const builder = new Part21Builder(file.highest + 1);
  const { starts: from, ends } = file.index;
  for (let position = 0; position < count; position++) {
    if (!closed[position]) continue;
    const edits = lists.get(position);
    if (edits) {
      const moved = edits.map((edit) => ({
        ...edit,
        start: edit.start - from[position]!,
        end: edit.end - from[position]!,
      }));
      builder.addBytes(splice(file.bytes.subarray(from[position]!, ends[position]!), moved));
      continue;
    }
    // What stands together goes together.
    const last = endOfRun(file, position, (one) => closed[one] === 1 && !lists.has(one));
    builder.addBytes(file.bytes.subarray(from[position]!, ends[last]!));
    position = last;
  }
  const bytes = builder.finish({
    name: fileName,
    timeStamp,
    originatingSystem: 'Stone Tray',
    schema: file.header.writtenSchemas[0] ?? '',
  });
  return { bytes, shared: new Set(lists.keys()) };
}

/** Positions that nothing refers to, that refer to something, and that say nothing of any product. */
function unreferred(file: Part21File, about: Uint8Array): number[] {
  const { first, targets } = ReferenceTable.of(file);
  const isReferred = new Uint8Array(file.index.count);
  for (const target of targets) if (target !== NOWHERE) isReferred[target] = 1;
  const found: number[] = [];
  for (let position = 0; position < file.index.count; position++)
    if (about[position] === 0 && !isReferred[position] && first[position]! < first[position + 1]!)
      found.push(position);
  return found;
}

/** What the lists of an instance become in the new file, and what it needs there; null where none of it is inside, or it cannot stand there. */
function sharedOut(
  file: Part21File,
  id: number,
  isIn: (id: number) => boolean,
  reaches: Uint8Array,
): { edits: Edit[]; needs: number[] } | null {
  const edits: Edit[] = [];
  const listed = new Set<number>();
  const needs: number[] = [];
  for (const { position, items } of listsOf(file, id)) {
    const kept = items.filter(isIn);
    if (kept.length === 0) continue;
    if (kept.length < items.length) edits.push(listEdit(file, id, position, kept));
    for (const item of items) listed.add(item);
    needs.push(...kept.map((item) => file.position(item)!));
  }
  if (listed.size === 0) return null;
  const alone = targetsOf(file, file.position(id)!).filter((target) => !listed.has(file.index.ids[target]!));
  if (alone.some((target) => (reaches[target]! & OUTSIDE) !== 0)) return null;
  return { edits, needs: [...needs, ...alone] };
}

/** The assembly without what has gone, and with the references. */
function withStandIns(
  anchors: Anchors,
  { about, anchored }: Belonging,
  components: readonly ComponentToPutOut[],
  lost: Map<string, number>,
  shared: ReadonlySet<number>,
): Uint8Array {
  const { file } = anchors;
  const { ids, count } = file.index;
  const table = ReferenceTable.of(file);
  const builder = builderAfter(file);

  // 1. What stays of the components.
  const mainOf = new Map<number, number>();
  const own = new Set<number>();
  const standIn = new Set<number>();
  for (const { definition } of components) {
    const representations = anchors.representations.get(definition) ?? [];
    const [main] = representations;
    if (main === undefined || file.typeOf(main) === '')
      throw new Refusal('It has no shape that could be a file of its own.');
    mainOf.set(definition, main);
    for (const one of representations) own.add(one);
    for (const one of anchors.heads.get(definition) ?? []) standIn.add(one);
  }
  for (const id of file.idsOfType('SHAPE_DEFINITION_REPRESENTATION')) {
    const shape = file.referenceOf(id, 0);
    const representation = file.referenceOf(id, 1);
    if (shape === undefined || representation === undefined) continue;
    if (mainOf.get(file.referenceOf(shape, 2) ?? 0) === representation)
      for (const one of [id, shape, representation]) standIn.add(one);
  }
  // Others of their representations that an assembly places them by.
  const isOwn = new Uint8Array(count);
  for (const id of own) isOwn[file.position(id) ?? count] = 1;
  const { first, targets } = table;
  for (let position = 0; position < count; position++) {
    if (!(about[position]! & OUTSIDE)) continue;
    for (let at = first[position]!; at < first[position + 1]!; at++) {
      const target = targets[at]!;
      if (target !== NOWHERE && isOwn[target]) standIn.add(ids[target]!);
    }
  }

  // 2. What ties them to what stays: the axis placements that are used, lists that name others too, and what cannot stay.
  const kept = new Set<number>();
  const leaving = new Set<number>();
  const lists = new Map<number, Edit[]>();
  const isGone = (position: number) =>
    about[position] === INSIDE && !standIn.has(ids[position]!) && !kept.has(position);
  for (let position = 0; position < count; position++) {
    if (about[position] !== BOTH || anchored[position]) continue;
    for (const target of targetsOf(file, position))
      if (isGone(target) && /^AXIS[12]_PLACEMENT|^PLACEMENT$/.test(file.typeOf(ids[target]!) ?? ''))
        for (const needed of table.closure([target])) kept.add(needed);
  }
  const open: number[] = [];
  for (let position = 0; position < count; position++)
    if (about[position] === BOTH && !anchored[position]) open.push(position);
  // Most components are tied to nothing that cannot stay.
  let users: Users | undefined;
  for (let position = open.pop(); position !== undefined; position = open.pop()) {
    if (leaving.has(position)) continue;
    const goes = (target: number) => isGone(target) || leaving.has(target);
    if (!targetsOf(file, position).some(goes)) continue;
    const edits = withoutGone(file, ids[position]!, (id) => goes(file.position(id) ?? -1));
    if (edits) {
      lists.set(position, edits);
      continue;
    }
    lists.delete(position);
    leaving.add(position);
    // What is left of it is with the components.
    if (!shared.has(position)) {
      const type = file.typeOf(ids[position]!) || 'complex instance';
      addCounts(lost, [[type, 1]]);
    }
    users ??= new Users(file);
    open.push(...users.of(position));
  }

  // 3. The representations of stand-ins hold axis placements only.
  const edits: Edit[] = [];
  const rewritten = new Set<number>();
  for (const id of standIn) {
    if (!own.has(id)) continue;
    const isUsed = (position: number) => kept.has(position) || about[position] !== INSIDE;
    const { edit, refersTo } = standInRepresentation(file, id, isUsed, builder);
    for (const needed of table.closure(refersTo)) kept.add(needed);
    edits.push(edit);
    rewritten.add(file.position(id)!);
  }

  // 4. What nothing that stays refers to any more goes.
  const going = leavingPositions(file, { about, isGone, leaving, lists, rewritten, kept });
  for (const [position, own] of lists) if (!going[position]) edits.push(...own);
  for (let position = 0; position < count; position++) {
    if (!going[position]) continue;
    const last = endOfRun(file, position, (one) => going[one] === 1);
    edits.push({ start: file.index.starts[position]!, end: removal(file, last).end });
    position = last;
  }

  // 5. The references to the new files.
  for (const { definition, written } of components) {
    const type = builder.add('DOCUMENT_TYPE', 'configuration controlled document version');
    const document = addDocument({ builder, shared: new Map() }, type, written, 'identification');
    builder.add('APPLIED_DOCUMENT_REFERENCE', document, '', [new Reference(definition)]);
  }
  return splice(
    file.bytes,
    [...edits, ...instancesEdit(file, builder)].sort((a, b) => a.start - b.start || a.end - b.end),
  );
}

/**
 * A representation as a SHAPE_REPRESENTATION of the axis placements in it that are used: of one where none is, of a new one where there is none.
 * @returns also the positions of what it refers to
 */
function standInRepresentation(
  file: Part21File,
  id: number,
  isUsed: (position: number) => boolean,
  builder: Part21Builder,
): { edit: Edit; refersTo: number[] } {
  const [name = '', , context = null] = file.parameters(id) ?? [];
  const contextId = context instanceof Reference ? context.id : undefined;
  const placements = file.referencesOf(id, 1).filter((item) => file.typeOf(item) === 'AXIS2_PLACEMENT_3D');
  const used = placements.filter((item) => isUsed(file.position(item)!));
  const stays = used.length > 0 ? used : placements.slice(0, 1);
  const millimetres =
    (contextId === undefined ? undefined : lengthUnitOfContext(file, contextId)?.millimetres) ?? 1;
  const items =
    stays.length > 0
      ? stays.map((item) => new Reference(item))
      : [addAxisPlacement(builder, IDENTITY, millimetres)];
  const record = writeInstance(id, [{ keyword: 'SHAPE_REPRESENTATION', parameters: [name, items, context] }]);
  const position = file.position(id)!;
  return {
    edit: {
      start: file.index.starts[position]!,
      end: file.index.ends[position]!,
      content: Buffer.from(record, 'latin1'),
    },
    refersTo: [...stays, ...(contextId === undefined ? [] : [contextId])].map((one) => file.position(one)!),
  };
}

function leavingPositions(
  file: Part21File,
  {
    about,
    isGone,
    leaving,
    lists,
    rewritten,
    kept,
  }: {
    about: Uint8Array;
    isGone: (position: number) => boolean;
    leaving: ReadonlySet<number>;
    lists: ReadonlyMap<number, Edit[]>;
    rewritten: ReadonlySet<number>;
    kept: ReadonlySet<number>;
  },
): Uint8Array {
  const { count } = file.index;
  const table = ReferenceTable.of(file);
  const { first, targets } = table;
  const stays = new Uint8Array(count);
  const keep = (start: number) => {
    const open = [start];
    for (let position = open.pop(); position !== undefined; position = open.pop()) {
      if (stays[position]) continue;
      stays[position] = 1;
      // What it refers to no longer; what stays of its list is about others.
      const isChanged = rewritten.has(position) || lists.has(position);
      for (let at = first[position]!; at < first[position + 1]!; at++) {
        const target = targets[at]!;
        if (target === NOWHERE || (isChanged && (isGone(target) || leaving.has(target)))) continue;
        if (rewritten.has(position) && about[target] === 0 && !kept.has(target)) continue;
        open.push(target);
      }
    }
  };
  const gone: number[] = [];
  for (const position of kept) keep(position);
  for (let position = 0; position < count; position++)
    if (isGone(position) || leaving.has(position)) gone.push(position);
    else if (about[position] !== 0) keep(position);
  // What says nothing of a product leaves where only what leaves needed what it is about.
  const all = table.closure(gone);
  const needed = new Uint8Array(count);
  for (const position of all) needed[position] = 1;
  const loose = unreferred(file, about);
  const isTheirs = (position: number) => table.closure([position]).some((one) => needed[one] && !stays[one]);
  for (const position of loose) if (!isTheirs(position)) keep(position);
  const going = new Uint8Array(count);
  for (const position of gone) going[position] = 1;
  for (const position of all) if (!stays[position]) going[position] = 1;
  for (const position of loose) {
    if (stays[position]) continue;
    for (const one of table.closure([position])) if (!stays[one]) going[one] = 1;
  }
  return going;
}
