import { builderAfter, instancesEdit, listEdit } from '#core/files/part21/extend';
import type { Part21File } from '#core/files/part21/file';
import { parameterStart } from '#core/files/part21/one-parameter';
import { Reference, skipBlank } from '#core/files/part21/parameters';
import { type Edit, splice } from '#core/files/part21/splice';
import type { Part21Builder } from '#core/files/part21/write';
import { append } from '#core/multimap';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import { axisPlacement } from '#core/product/placements';
import type { Occurrence, Product } from '#core/product/structure';
import { type Transformation, transformationOf } from '#core/product/transformations';
import { addProduct } from '#core/product/write-components';
import { addAxisPlacement } from '#core/product/write-geometry';
import { Refusal } from '#core/refusal';
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
  /** More of what an occurrence places. */
  added: readonly (Placing & { like: number })[];
  /** New assemblies, each placed once; by a key that `Placing.parent` names. */
  groups: readonly (Placing & { key: string; id: string; name: string; parent: number })[];
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
    added: [],
    groups: [],
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

/** A representation that holds what an assembly places. */
interface Frame {
  definition: Reference;
  representation: Reference;
  millimetres: number;
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
  /** Items that representations get, and lose. */
  private readonly added = new Map<number, number[]>();
  private readonly dropped = new Set<number>();
  private readonly groups = new Map<string, Frame & { items: Reference[]; finish(): void }>();
  private readonly lost = new Map<string, number>();
  private ids: Set<string> | undefined;

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
    for (const id of file.idsOfType('SHAPE_DEFINITION_REPRESENTATION')) {
      const [shape, representation] = [file.referenceOf(id, 0), file.referenceOf(id, 1)];
      if (representation === undefined) continue;
      this.ownerOf.set(representation, file.referenceOf(shape, 2) ?? 0);
      this.going.keep(representation);
    }
    this.readUsages(products);
  }

  run({ placed, removed, added, groups }: Arrangement): Arranged {
    for (const group of groups) this.addGroup(group);
    for (const [occurrence, placing] of placed) this.place(this.usageOf(occurrence), placing);
    for (const { like, ...placing } of added) this.addLike(this.usageOf(like), placing);
    for (const { key, parent, placement, id, name } of groups)
      this.addOccurrence(this.frameOf(parent), this.groups.get(key)!, placement, id, name);
    for (const { finish } of this.groups.values()) finish();
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

  private frameOf(parent: number | string): Frame {
    if (typeof parent === 'string') return this.groups.get(parent)!;
    const representation = this.heads.get(parent)?.representation;
    if (representation === undefined || this.file.typeOf(representation) === '')
      throw new Refusal(`The assembly #${parent} has no shape in which a component could be placed.`);
    return {
      definition: new Reference(parent),
      representation: new Reference(representation),
      millimetres: millimetresOf(this.file, representation),
    };
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
    const frame = this.frameOf(parent);
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
      const target = this.addItem(frame, multiply(placement, own ?? IDENTITY));
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
      this.addTransformation(frame, this.frameOf(occurrence.child), placement, new Reference(usage.usage!));
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
    this.take(frame, new Reference(item));
  }

  /** Another occurrence of what one places. */
  private addLike(usage: Usage, { parent, placement }: Placing): void {
    const { occurrence } = usage;
    const written = usage.usage === undefined ? '' : (this.file.stringOf(usage.usage, 0)?.text ?? '');
    this.addOccurrence(
      this.frameOf(parent),
      this.frameOf(occurrence.child),
      placement,
      written || occurrence.name,
      occurrence.name,
    );
  }

  /** Ids of occurrences are unique in a file. */
  private freeId(wanted: string): string {
    const { file } = this;
    this.ids ??= new Set(
      file.idsOfType('NEXT_ASSEMBLY_USAGE_OCCURRENCE').map((id) => file.stringOf(id, 0)?.text ?? ''),
    );
    let id = wanted;
    for (let n = 2; this.ids.has(id); n++) id = `${wanted}.${n}`;
    this.ids.add(id);
    return id;
  }

  private addOccurrence(
    assembly: Frame,
    component: Frame,
    placement: Matrix4,
    id: string,
    name: string,
  ): void {
    const usage = this.builder.add(
      'NEXT_ASSEMBLY_USAGE_OCCURRENCE',
      this.freeId(id),
      name,
      '',
      assembly.definition,
      component.definition,
      null,
    );
    this.addTransformation(assembly, component, placement, usage);
  }

  private addTransformation(assembly: Frame, component: Frame, placement: Matrix4, usage: Reference): void {
    const add = this.builder.add.bind(this.builder);
    const shape = add('PRODUCT_DEFINITION_SHAPE', '', '', usage);
    const origin = this.addItem(component, IDENTITY);
    const target = this.addItem(assembly, placement);
    const operator = add('ITEM_DEFINED_TRANSFORMATION', '', '', origin, target);
    const relationship = this.builder.addComplex(
      {
        keyword: 'REPRESENTATION_RELATIONSHIP',
        parameters: ['', '', component.representation, assembly.representation],
      },
      { keyword: 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION', parameters: [operator] },
      { keyword: 'SHAPE_REPRESENTATION_RELATIONSHIP', parameters: [] },
    );
    add('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION', relationship, shape);
  }

  private addGroup({ key, id, name, parent }: Arrangement['groups'][number]): void {
    const { file, builder } = this;
    const above = this.frameOf(parent);
    const product = this.heads.get(parent)?.product;
    const context = file.referenceOf(parent, 3);
    const { definition, shape } = addProduct(
      {
        builder,
        productContexts: file.referencesOf(product, 3).map((one) => new Reference(one)),
        definitionContext: context === undefined ? null : new Reference(context),
      },
      id,
      name,
    );
    const representation = builder.reserve();
    builder.add('SHAPE_DEFINITION_REPRESENTATION', shape, representation);
    const items: Reference[] = [];
    const geometry = file.referenceOf(above.representation.id, 2);
    this.groups.set(key, {
      definition,
      representation,
      millimetres: above.millimetres,
      items,
      finish: () =>
        builder.addAs(
          representation,
          'SHAPE_REPRESENTATION',
          name,
          items,
          geometry === undefined ? null : new Reference(geometry),
        ),
    });
  }

  private addItem(frame: Frame, placement: Matrix4): Reference {
    const item = addAxisPlacement(this.builder, placement, frame.millimetres);
    this.take(frame, item);
    return item;
  }

  private take({ representation }: Frame, item: Reference): void {
    const group = [...this.groups.values()].find((one) => one.representation === representation);
    if (group) group.items.push(item);
    else append(this.added, representation.id, item.id);
  }

  /** An axis placement that nothing but one occurrence was placed by; the first of a representation is its origin, and stays. */
  private dropItem({ representation, item }: { representation: number; item: number }, by: number): void {
    const { file } = this;
    if (file.referencesOf(representation, 1)[0] === item) return;
    const [own, list] = [file.position(by), file.position(representation)];
    for (const user of this.going.users.of(file.position(item)!))
      if (user !== own && user !== list && !this.going.has(user)) return;
    this.dropped.add(item);
    this.going.goAlone(item);
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
        this.lost.set(type, (this.lost.get(type) ?? 0) + 1);
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
    const { operator } = transformation;
    // Some write one operator for all that stand alike.
    if ([...this.going.users.of(this.file.position(operator)!)].every((user) => this.going.has(user)))
      this.going.go(operator);
    else return;
    const { assembly, component } = this.sidesOf(usage, transformation);
    this.dropItem(assembly, operator);
    this.dropItem(component, operator);
  }

  private written(): Uint8Array {
    const { file, going, builder } = this;
    const kept = new Set<number>();
    for (const items of this.added.values()) for (const item of items) kept.add(item);
    going.goOrphans((position) => kept.has(file.index.ids[position]!));
    const edits = [...this.edits];
    for (const representation of this.ownerOf.keys()) {
      if (file.typeOf(representation) === '') continue;
      const before = file.referencesOf(representation, 1);
      const isThere = (item: number) => !this.dropped.has(item) && !going.has(file.position(item) ?? -1);
      const left = [...before.filter(isThere), ...(this.added.get(representation) ?? [])];
      if (left.length === before.length && left.every((item, n) => item === before[n])) continue;
      if (left.length === 0)
        left.push(addAxisPlacement(builder, IDENTITY, millimetresOf(file, representation)).id);
      edits.push(listEdit(file, representation, 1, left));
    }
    // What goes as a whole is edited no more.
    const gone = going.edits();
    const holes = gone.filter(({ content }) => !content);
    const isGone = ({ start, end }: Edit) => holes.some((hole) => hole.start <= start && end <= hole.end);
    return splice(
      file.bytes,
      [...edits.filter((edit) => !isGone(edit)), ...gone, ...instancesEdit(file, builder)].sort(
        (a, b) => a.start - b.start || a.end - b.end,
      ),
    );
  }
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
