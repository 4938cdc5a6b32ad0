import { builderAfter, instancesEdit, listEdit } from '#core/files/part21/extend';
import type { Part21File } from '#core/files/part21/file';
import { parameterStart } from '#core/files/part21/one-parameter';
import { Reference, skipBlank } from '#core/files/part21/parameters';
import { type Edit, splice } from '#core/files/part21/splice';
import type { Part21Builder } from '#core/files/part21/write';
import { addCounts } from '#core/multimap';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import { axisPlacement } from '#core/product/placements';
import type { Occurrence, Product } from '#core/product/structure';
import { type Transformation, transformationOf } from '#core/product/transformations';
import { addAxisPlacement } from '#core/product/write-geometry';
import { Refusal } from '#core/refusal';
import { type Frame, Frames, type NewProduct } from './frames';
import { Going } from './going';
import { headsOf, millimetresOf, type ProductHead } from './heads';

/*
 * Occurrences of an assembly get other places, other assemblies above them, or go. What places one (ISO 10303-44,
 * next_assembly_usage_occurrence; -43, item_defined_transformation or mapped_item) stays what it is: only the assembly that it names, and
 * the axis placement on the assembly's side, are others.
 */

/** Where an occurrence is: the PRODUCT_DEFINITION above it, or a new group; and its place there, in millimetres. */
export interface Placing {
  parent: number | string;
  placement: Matrix4;
}

/** What shall become of the occurrences of one file. */
export interface Arrangement {
  /** By the numbers of occurrences. */
  placed: ReadonlyMap<number, Placing>;
  removed: readonly number[];
  /** Occurrences that place another product from now on, and where, in millimetres. */
  replaced: ReadonlyMap<number, { by: number | string; placement: Matrix4 }>;
  /** More of what an occurrence places, or of any product. */
  added: readonly (Placing & ({ like: number } | { component: number | string; name: string }))[];
  /** New assemblies, each placed once; by a key that `Placing.parent` names. */
  groups: readonly (Placing & NewProduct & { parent: number })[];
  /** Files that the assembly refers to from now on, for those that name their keys. @see Frames.addStandIn */
  standIns: readonly (NewProduct & { written: string; parent: number })[];
}

export interface Arranged {
  bytes: Uint8Array;
  /** What does not survive a change of level: entity types, with how many there were. */
  lost: Map<string, number>;
}

/** @throws Refusal where an assembly has no shape of its own, or a component is scaled where it is placed */
export function arranged(
  file: Part21File,
  products: readonly Product[],
  arrangement: Partial<Arrangement>,
): Arranged {
  return new Arranging(file, products).run({
    placed: new Map(),
    removed: [],
    replaced: new Map(),
    added: [],
    groups: [],
    standIns: [],
    ...arrangement,
  });
}

/** How an occurrence is written. */
interface Usage {
  occurrence: Occurrence;
  parent: number;
  /** NEXT_ASSEMBLY_USAGE_OCCURRENCE; left out where a mapped item alone places it. */
  usage?: number;
  relationship?: number;
  transformation?: Transformation;
}

/** What names a path of levels, and means nothing where the path is another. */
const BY_LEVELS = /^(SPECIFIED_HIGHER_USAGE_OCCURRENCE|CONTEXT_DEPENDENT_OVER_RIDING_STYLED_ITEM)$/;

class Arranging {
  private readonly builder: Part21Builder;
  private readonly going: Going;
  private readonly heads: ReadonlyMap<number, ProductHead>;
  /** Which product each representation is the shape of. */
  private readonly ownerOf = new Map<number, number>();
  private readonly usages = new Map<number, Usage>();
  private readonly edits: Edit[] = [];
  private readonly frames: Frames;
  private readonly origins = new Map<number, number | undefined>();
  /** Items that representations lose. */
  private readonly dropped = new Set<number>();
  /** Positions of what names no longer what it was placed by. */
  private readonly ledAway = new Set<number>();
  private readonly lost = new Map<string, number>();

  constructor(
    private readonly file: Part21File,
    products: readonly Product[],
  ) {
    this.builder = builderAfter(file);
    this.going = new Going(file);
    this.heads = headsOf(
      file,
      products.map(({ definition }) => definition),
    );
    this.frames = new Frames(file, this.builder, this.heads);
    for (const id of file.idsOfType('SHAPE_DEFINITION_REPRESENTATION')) {
      const [shape, representation] = [file.referenceOf(id, 0), file.referenceOf(id, 1)];
      if (representation === undefined) continue;
      this.ownerOf.set(representation, file.referenceOf(shape, 2) ?? 0);
      this.going.keep(representation);
    }
    this.readUsages(products);
  }

  run({ placed, removed, replaced, added, groups, standIns }: Arrangement): Arranged {
    const { frames } = this;
    for (const group of groups) frames.addAssembly(group, group.parent);
    for (const standIn of standIns) frames.addStandIn(standIn, standIn.parent);
    for (const [occurrence, placing] of placed) this.place(this.usageOf(occurrence), placing);
    for (const [occurrence, { by, placement }] of replaced)
      this.replace(this.usageOf(occurrence), frames.of(by), placement);
    for (const placing of added) this.add(placing);
    for (const { key, parent, ...group } of groups)
      frames.addOccurrence(frames.of(parent), frames.of(key), group);
    frames.finish();
    for (const occurrence of removed) this.remove(this.usageOf(occurrence));
    return { bytes: this.written(), lost: this.lost };
  }

  private readUsages(products: readonly Product[]): void {
    const { file } = this;
    const shapes = new Map<number, number>();
    for (const id of file.idsOfType('PRODUCT_DEFINITION_SHAPE')) shapes.set(id, file.referenceOf(id, 2) ?? 0);
    const relationships = new Map<number, number>();
    for (const id of file.idsOfType('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION')) {
      const relationship = file.referenceOf(id, 0);
      const usage = shapes.get(file.referenceOf(id, 1) ?? 0);
      if (relationship !== undefined && usage !== undefined) relationships.set(usage, relationship);
    }
    const hasItem = (representation: number, item: number) =>
      file.referencesOf(representation, 1).includes(item);
    for (const { definition, occurrences } of products)
      for (const occurrence of occurrences) {
        const relationship = relationships.get(occurrence.id);
        const transformation =
          relationship === undefined ? undefined : transformationOf(file, relationship, hasItem);
        this.usages.set(occurrence.id, {
          occurrence,
          parent: definition,
          ...(occurrence.id !== occurrence.item && { usage: occurrence.id }),
          ...(relationship !== undefined && { relationship }),
          ...(transformation && { transformation }),
        });
      }
  }

  private usageOf(occurrence: number): Usage {
    const found = this.usages.get(occurrence);
    if (!found) throw new Refusal(`There is no occurrence #${occurrence}.`);
    return found;
  }

  /** The sides of a transformation: the assembly's, and the component's. */
  private sidesOf({ parent }: Usage, transformation: Transformation) {
    const { first, second, inFirst, inSecond, isSwapped } = transformation;
    const isFirst = this.ownerOf.get(first) === parent && this.ownerOf.get(second) !== parent;
    return {
      assembly: isFirst
        ? { representation: first, item: inFirst }
        : { representation: second, item: inSecond },
      component: isFirst
        ? { representation: second, item: inSecond }
        : { representation: first, item: inFirst },
      /** Which parameter of the operator is the assembly's item. */
      position: isFirst !== isSwapped ? 2 : 3,
    };
  }

  private place(usage: Usage, { parent, placement }: Placing): void {
    const { file } = this;
    const frame = this.frames.of(parent);
    const isElsewhere = parent !== usage.parent;
    if (isElsewhere) {
      if (usage.usage === undefined)
        throw new Refusal(`${usage.occurrence.name} is placed without an occurrence, and cannot be moved.`);
      this.edits.push(referenceEdit(file, usage.usage, 3, frame.definition.id));
      this.loseByLevels(usage);
    }
    const { transformation, occurrence } = usage;
    if (occurrence.item !== undefined) this.placeMapped(usage, frame, placement);
    else if (transformation) {
      const { assembly, component, position } = this.sidesOf(usage, transformation);
      const own = axisPlacement(file, component.item, millimetresOf(file, component.representation));
      const target = this.frames.addItem(frame, multiply(placement, own ?? IDENTITY));
      const users = this.going.users.of(file.position(transformation.operator)!);
      if (users.length === 1) {
        this.edits.push(referenceEdit(file, transformation.operator, position, target.id));
        this.dropItem(assembly, transformation.operator);
      } else {
        const pair = [new Reference(component.item), target];
        const operator = this.builder.add(
          'ITEM_DEFINED_TRANSFORMATION',
          '',
          '',
          ...(position === 3 ? pair : pair.reverse()),
        );
        this.edits.push(...ledTo(file, usage.relationship!, transformation.operator, operator.id));
      }
      if (assembly.representation !== frame.representation.id)
        this.edits.push(
          ...ledTo(file, usage.relationship!, assembly.representation, frame.representation.id),
        );
    } else {
      // Placed by nothing: it stood at the origin.
      this.frames.addTransformation(
        frame,
        this.frames.of(occurrence.child),
        placement,
        new Reference(usage.usage!),
      );
    }
  }

  private placeMapped({ parent, occurrence }: Usage, frame: Frame, placement: Matrix4): void {
    const { file } = this;
    const item = occurrence.item!;
    const map = file.referenceOf(item, 1);
    const target = file.referenceOf(item, 2);
    if (file.typeOf(target ?? 0) !== 'AXIS2_PLACEMENT_3D')
      throw new Refusal(`${occurrence.name} is scaled or mirrored where it is placed: it cannot be moved.`);
    const own = axisPlacement(file, file.referenceOf(map, 0), millimetresOf(file, file.referenceOf(map, 1)));
    const at = addAxisPlacement(this.builder, multiply(placement, own ?? IDENTITY), frame.millimetres);
    this.edits.push(referenceEdit(file, item, 2, at.id));
    const before = this.heads.get(parent)!.representation!;
    this.dropItem({ representation: before, item: target! }, item);
    if (before === frame.representation.id) return;
    this.dropped.add(item);
    this.frames.take(frame, new Reference(item));
  }

  private add(placing: Arrangement['added'][number]): void {
    const { frames } = this;
    const { parent, placement } = placing;
    if (!('like' in placing)) {
      const { component, name } = placing;
      frames.addOccurrence(frames.of(parent), frames.of(component), { placement, id: name, name });
      return;
    }
    const { usage, occurrence } = this.usageOf(placing.like);
    const written = usage === undefined ? '' : (this.file.stringOf(usage, 0)?.text ?? '');
    frames.addOccurrence(frames.of(parent), frames.of(occurrence.child), {
      placement,
      id: written || occurrence.name,
      name: occurrence.name,
    });
  }

  /** Lets an occurrence place another product. */
  private replace(usage: Usage, component: Frame, placement: Matrix4): void {
    const { file, frames, builder } = this;
    const { transformation, occurrence, parent } = usage;
    const frame = frames.of(parent);
    if (usage.usage !== undefined)
      this.edits.push(referenceEdit(file, usage.usage, 4, component.definition.id));
    this.loseByLevels(usage);
    if (occurrence.item !== undefined) {
      const target = file.referenceOf(occurrence.item, 2)!;
      const map = builder.add('REPRESENTATION_MAP', frames.originOf(component), component.representation);
      const at = addAxisPlacement(builder, placement, frame.millimetres);
      this.edits.push(
        referenceEdit(file, occurrence.item, 1, map.id),
        referenceEdit(file, occurrence.item, 2, at.id),
      );
      this.dropItem({ representation: frame.representation.id, item: target }, occurrence.item);
      const before = file.referenceOf(occurrence.item, 1)!;
      const [item, representation] = [file.referenceOf(before, 0)!, file.referenceOf(before, 1)!];
      this.letGo(before, occurrence.item, [{ representation, item }]);
    } else if (transformation) {
      const { assembly, component: before, position } = this.sidesOf(usage, transformation);
      const pair = [frames.originOf(component), frames.addItem(frame, placement)];
      const operator = builder.add(
        'ITEM_DEFINED_TRANSFORMATION',
        '',
        '',
        ...(position === 3 ? pair : pair.reverse()),
      );
      const { relationship } = usage;
      this.edits.push(
        ...ledTo(file, relationship!, transformation.operator, operator.id),
        ...ledTo(file, relationship!, before.representation, component.representation.id),
      );
      this.letGo(transformation.operator, relationship!, [assembly, before]);
    } else frames.addTransformation(frame, component, placement, new Reference(usage.usage!));
  }

  /** What an occurrence was placed by, and the items that it names, unless others need it. @param by what names it no longer */
  private letGo(
    placing: number,
    by: number,
    items: readonly { representation: number; item: number }[],
  ): void {
    const { file, going, ledAway } = this;
    ledAway.add(file.position(by)!);
    for (const user of going.users.of(file.position(placing)!))
      if (!going.has(user) && !ledAway.has(user)) return;
    going.goAlone(placing);
    for (const item of items) this.dropItem(item, placing);
  }

  /** An axis placement that nothing but one occurrence was placed by; the first of a representation is its origin, and stays. */
  private dropItem({ representation, item }: { representation: number; item: number }, by: number): void {
    const { file } = this;
    if (this.originOf(representation) === item) return;
    const [own, list] = [file.position(by), file.position(representation)];
    for (const user of this.going.users.of(file.position(item)!))
      if (user !== own && user !== list && !this.going.has(user)) return;
    this.dropped.add(item);
    this.going.goAlone(item);
  }

  /** The first item of a representation. */
  private originOf(representation: number): number | undefined {
    if (!this.origins.has(representation))
      this.origins.set(representation, this.file.referencesOf(representation, 1)[0]);
    return this.origins.get(representation);
  }

  private loseByLevels({ usage, relationship }: Usage): void {
    const { file, going } = this;
    for (const id of [usage, relationship]) {
      const position = id === undefined ? undefined : file.position(id);
      if (position === undefined) continue;
      for (const user of going.users.of(position)) {
        const one = file.index.ids[user]!;
        const type = file.typeOf(one) ?? '';
        if (!BY_LEVELS.test(type) || going.has(user)) continue;
        addCounts(this.lost, [[type, 1]]);
        going.go(one);
      }
    }
  }

  private remove(usage: Usage): void {
    const { occurrence, transformation } = usage;
    this.loseByLevels(usage);
    this.going.go(usage.usage);
    this.going.go(usage.relationship);
    if (occurrence.item !== undefined) {
      this.dropped.add(occurrence.item);
      this.going.go(occurrence.item);
    }
    if (!transformation) return;
    const { assembly, component } = this.sidesOf(usage, transformation);
    // Some write one operator for all that stand alike.
    this.letGo(transformation.operator, usage.relationship!, [assembly, component]);
  }

  private written(): Uint8Array {
    const { file, going, builder } = this;
    const kept = new Set<number>();
    for (const items of this.frames.added.values()) for (const item of items) kept.add(item);
    going.goOrphans((position) => kept.has(file.index.ids[position]!));
    const edits = [...this.edits];
    for (const representation of this.ownerOf.keys()) {
      if (file.typeOf(representation) === '') continue;
      const before = file.referencesOf(representation, 1);
      const isThere = (item: number) => !this.dropped.has(item) && !going.has(file.position(item) ?? -1);
      const left = [...before.filter(isThere), ...(this.frames.added.get(representation) ?? [])];
      if (left.length === before.length && left.every((item, n) => item === before[n])) continue;
      if (left.length === 0)
        left.push(addAxisPlacement(builder, IDENTITY, millimetresOf(file, representation)).id);
      edits.push(listEdit(file, representation, 1, left));
    }
    // What goes as a whole is edited no more.
    const gone = going.edits();
    const isGone = within(gone.filter(({ content }) => !content));
    return splice(
      file.bytes,
      [...edits.filter((edit) => !isGone(edit)), ...gone, ...instancesEdit(file, builder)].sort(
        (a, b) => a.start - b.start || a.end - b.end,
      ),
    );
  }
}

/** Tells whether an edit lies in one of some holes. */
function within(holes: readonly Edit[]): (edit: Edit) => boolean {
  const sorted = [...holes].sort((a, b) => a.start - b.start);
  return ({ start, end }) => {
    let [low, high] = [0, sorted.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (sorted[middle]!.start <= start) low = middle + 1;
      else high = middle;
    }
    const hole = sorted[low - 1];
    return hole !== undefined && end <= hole.end;
  };
}

/** Another reference for a parameter of a simple instance that is one. */
function referenceEdit(file: Part21File, id: number, position: number, to: number): Edit {
  const { content, end } = file.contentOf(id)!;
  const open = skipBlank(file.bytes, content + file.typeOf(id)!.length, end);
  const start = parameterStart(file.bytes, open, end, position);
  let at = start + 1;
  while (file.bytes[at]! >= 0x30 && file.bytes[at]! <= 0x39) at++;
  return { start, end: at, content: Buffer.from(`#${to}`) };
}

/** Another reference in the place of each to one instance, within another. */
function ledTo(file: Part21File, id: number, from: number, to: number): Edit[] {
  const { content, end } = file.contentOf(id)!;
  const text = Buffer.from(file.bytes.buffer, file.bytes.byteOffset + content, end - content).toString(
    'latin1',
  );
  return [...text.matchAll(/'(?:[^']|'')*'|#(\d+)/g)].flatMap(({ 0: whole, 1: number, index }) =>
    Number(number) === from
      ? [{ start: content + index, end: content + index + whole.length, content: Buffer.from(`#${to}`) }]
      : [],
  );
}
