import type { Part21File } from '#core/files/part21/file';
import { referenceOf } from '#core/files/part21/parameters';
import { NOWHERE, ReferenceTable } from '#core/files/part21/references';
import { append } from '#core/multimap';
import type { Product } from '#core/product/structure';

/** What an instance is about: products inside of what is asked for, products outside, or both; 0 for what says nothing of either. */
export const INSIDE = 1;
export const OUTSIDE = 2;
export const BOTH = INSIDE | OUTSIDE;

/** The products of a file with what makes them up, read once for all questions. */
export class Anchors {
  /** Representations of each product: its own, and those that are the same shape in another form. */
  readonly representations = new Map<number, number[]>();
  /** PRODUCT_DEFINITION, formation and PRODUCT of each. */
  readonly heads = new Map<number, number[]>();
  /** The products that a usage occurrence, its shape, and what places it, tie together. */
  readonly usages: { parent: number; child: number; instances: number[] }[] = [];

  constructor(
    readonly file: Part21File,
    readonly products: readonly Product[],
  ) {
    const known = new Set(products.map(({ definition }) => definition));
    for (const { definition } of products) {
      const formation = file.referenceOf(definition, 2);
      const product = file.referenceOf(formation, 2);
      this.heads.set(
        definition,
        [definition, formation, product].filter((id) => id !== undefined),
      );
    }
    this.readUsages(known);
    this.readRepresentations(known);
  }

  private readUsages(known: ReadonlySet<number>): void {
    const { file } = this;
    const shapes = new Map<number, number[]>();
    for (const id of file.idsOfType('PRODUCT_DEFINITION_SHAPE')) {
      const of = file.referenceOf(id, 2);
      if (of !== undefined) append(shapes, of, id);
    }
    const placings = new Map<number, number[]>();
    for (const id of file.idsOfType('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION')) {
      const [relationship, shape] = [file.referenceOf(id, 0), file.referenceOf(id, 1)];
      const operator = referenceOf(
        file.entity(relationship, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')?.at(-1),
      );
      for (const one of [id, relationship, operator])
        if (shape !== undefined && one !== undefined) append(placings, shape, one);
    }
    for (const id of file.idsOfType('NEXT_ASSEMBLY_USAGE_OCCURRENCE')) {
      const [parent, child] = [file.referenceOf(id, 3), file.referenceOf(id, 4)];
      if (parent === undefined || child === undefined || !known.has(parent) || !known.has(child)) continue;
      const own = shapes.get(id) ?? [];
      const placing = own.flatMap((shape) => placings.get(shape) ?? []);
      this.usages.push({ parent, child, instances: [id, ...own, ...placing] });
    }
  }

  private readRepresentations(known: ReadonlySet<number>): void {
    const { file } = this;
    const ownerOf = new Map<number, number>();
    for (const id of file.idsOfType('SHAPE_DEFINITION_REPRESENTATION')) {
      const definition = file.referenceOf(file.referenceOf(id, 0), 2);
      const representation = file.referenceOf(id, 1);
      if (definition === undefined || representation === undefined || !known.has(definition)) continue;
      append(this.representations, definition, representation);
      ownerOf.set(representation, definition);
    }
    const placing = new Set(this.usages.flatMap(({ instances }) => instances));
    const related = new Map<number, number[]>();
    for (const id of [
      ...file.idsOfType('SHAPE_REPRESENTATION_RELATIONSHIP'),
      ...file.complexIdsWith('SHAPE_REPRESENTATION_RELATIONSHIP'),
    ]) {
      if (placing.has(id)) continue;
      const pair =
        file.entity(id, 'REPRESENTATION_RELATIONSHIP') ??
        file.entity(id, 'SHAPE_REPRESENTATION_RELATIONSHIP');
      const [one, other] = [referenceOf(pair?.[2]), referenceOf(pair?.[3])];
      if (one === undefined || other === undefined) continue;
      append(related, one, other);
      append(related, other, one);
    }
    for (const [definition, own] of this.representations)
      for (const representation of own)
        for (const other of related.get(representation) ?? [])
          if (!ownerOf.has(other)) {
            ownerOf.set(other, definition);
            own.push(other);
          }
  }
}

/** For each instance, by its position, what it is about, and which products it reaches without what their shapes are made of. */
export interface Belonging {
  about: Uint8Array;
  /** The same, but for shapes: a context that one product's shape alone needs reaches no product. */
  reaches: Uint8Array;
  /** Positions of heads and representations of products. */
  anchored: Uint8Array;
}

/**
 * What each instance of a file is about, seen from some of its products: whatever refers to a product, or to what only its shape needs, is
 * about it; what the shapes of several need is about none. Linear in the references of the file.
 * @param inside PRODUCT_DEFINITIONs
 */
export function belongingTo(anchors: Anchors, inside: ReadonlySet<number>): Belonging {
  const { file, products } = anchors;
  const { count } = file.index;
  const { first, targets } = ReferenceTable.of(file);
  const about = new Uint8Array(count);
  const anchored = new Uint8Array(count);
  const sideOf = (definition: number) => (inside.has(definition) ? INSIDE : OUTSIDE);

  // 1. Heads and representations of products.
  const starts: { [side: number]: number[] } = { [INSIDE]: [], [OUTSIDE]: [] };
  for (const { definition } of products) {
    const side = sideOf(definition);
    for (const id of anchors.heads.get(definition) ?? []) mark(file, anchored, id, side);
    for (const id of anchors.representations.get(definition) ?? []) {
      const position = file.position(id);
      if (position === undefined) continue;
      anchored[position]! |= side;
      starts[side]!.push(position);
    }
  }
  // What places a part of the inside goes with it, wherever the part itself stays.
  for (const { parent, instances } of anchors.usages)
    if (inside.has(parent)) for (const id of instances) mark(file, anchored, id, INSIDE);

  // 2. What shapes need.
  const needed = new Uint8Array(count);
  for (const side of [INSIDE, OUTSIDE]) {
    const open = [...starts[side]!];
    for (let position = open.pop(); position !== undefined; position = open.pop())
      for (let at = first[position]!; at < first[position + 1]!; at++) {
        const target = targets[at]!;
        if (target === NOWHERE || anchored[target] || needed[target]! & side) continue;
        needed[target]! |= side;
        open.push(target);
      }
  }

  // 3. What refers to them, after what it refers to.
  const reaches = new Uint8Array(count);
  const state = new Uint8Array(count);
  for (let start = 0; start < count; start++) {
    if (state[start]) continue;
    const way = [start];
    const next = [first[start]!];
    state[start] = 1;
    while (way.length > 0) {
      const position = way.at(-1)!;
      const at = next[next.length - 1]!++;
      if (at < first[position + 1]!) {
        const target = targets[at]!;
        if (target !== NOWHERE && !state[target]) {
          state[target] = 1;
          way.push(target);
          next.push(first[target]!);
        }
        continue;
      }
      way.pop();
      next.pop();
      if (anchored[position]) {
        about[position] = anchored[position]!;
        reaches[position] = anchored[position]!;
        continue;
      }
      for (let reference = first[position]!; reference < first[position + 1]!; reference++) {
        const target = targets[reference]!;
        if (target === NOWHERE) continue;
        about[position]! |= about[target]!;
        reaches[position]! |= reaches[target]!;
      }
      const needs = needed[position]!;
      if (needs === INSIDE || needs === OUTSIDE) about[position]! |= needs;
    }
  }
  // 4. What places a part in the outside is about that, also where it does so by an axis placement that both sides share.
  for (const { parent, instances } of anchors.usages)
    if (!inside.has(parent))
      for (const id of instances) {
        const position = file.position(id);
        if (position !== undefined && !anchored[position]) about[position]! |= OUTSIDE;
      }
  return { about, reaches, anchored };
}

function mark(file: Part21File, into: Uint8Array, id: number, side: number): void {
  const position = file.position(id);
  if (position !== undefined) into[position]! |= side;
}
