import type { Part21File } from '#core/files/part21/file';
import { referenceOf, referencesOf, Typed, textOf } from '#core/files/part21/parameters';
import { splice } from '#core/files/part21/splice';
import { append } from '#core/multimap';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import type { Product } from '#core/product/structure';
import { measureAndUnit } from '../stated-size';
import { Going } from './going';

/*
 * Validation properties (ISO 10303-41, property_definition; recommended by its users for volume, area, centroid and counts of components)
 * let whoever gets a file check what arrived. When an assembly is changed, those of it and of what is above it may be wrong: then they
 * leave the file, since a wrong check is worse than none.
 */

/** All that an assembly comes to of one part: how often, and the sum of its placements. Volume, area and centroid follow from both. */
interface Share {
  count: number;
  placements: Matrix4;
}

/** What products come to in the end, by the parts that have a shape of their own. */
class Contents {
  private readonly byDefinition: ReadonlyMap<number, Product>;
  private readonly known = new Map<number, ReadonlyMap<number, Share>>();

  constructor(products: readonly Product[]) {
    this.byDefinition = new Map(products.map((product) => [product.definition, product]));
  }

  /** By the PRODUCT_DEFINITIONs of parts. What is in a circle counts once. */
  of(definition: number): ReadonlyMap<number, Share> {
    const known = this.known.get(definition);
    if (known) return known;
    const found = new Map<number, Share>();
    this.known.set(definition, found);
    const { bodies, occurrences } = this.byDefinition.get(definition) ?? { bodies: [], occurrences: [] };
    if (bodies.length > 0 || occurrences.length === 0)
      found.set(definition, { count: 1, placements: IDENTITY });
    for (const { child, placement } of occurrences)
      for (const [part, { count, placements }] of this.of(child)) {
        const moved = multiply(placement, placements);
        const before = found.get(part);
        found.set(part, {
          count: count + (before?.count ?? 0),
          placements: before ? moved.map((value, n) => value + before.placements[n]!) : moved,
        });
      }
    return found;
  }

  /** How many components it has directly; 0 for a part. */
  countOf(definition: number): number {
    return this.byDefinition.get(definition)?.occurrences.length ?? 0;
  }
}

/** Sums of placements that differ by less, mm, come from rounding. */
const SAME = 1e-6;

function isSame(before: ReadonlyMap<number, Share>, after: ReadonlyMap<number, Share>): boolean {
  if (before.size !== after.size) return false;
  for (const [part, { count, placements }] of before) {
    const other = after.get(part);
    if (other?.count !== count) return false;
    if (placements.some((value, n) => Math.abs(value - other.placements[n]!) > SAME * count)) return false;
  }
  return true;
}

/** A validation property of a product. */
interface Validation {
  /** PROPERTY_DEFINITION */
  property: number;
  /** Whether it says how many components there are, not only how large all is. */
  isOfComponents: boolean;
}

const SIZES = /^(VOLUME|AREA)_MEASURE$/;
const CENTROID = /^cent(re|er) point$|centroid/i;

/** Validation properties of the products of a file, by PRODUCT_DEFINITION. */
export function validationsOf(file: Part21File): Map<number, Validation[]> {
  const found = new Map<number, Validation[]>();
  for (const id of file.idsOfType('PROPERTY_DEFINITION_REPRESENTATION')) {
    const parameters = file.entity(id, 'PROPERTY_DEFINITION_REPRESENTATION')!;
    const property = referenceOf(parameters[0]);
    const own = file.entity(property, 'PROPERTY_DEFINITION');
    const of = referenceOf(own?.[2]);
    if (property === undefined || of === undefined) continue;
    const shape = file.entity(of, 'PRODUCT_DEFINITION_SHAPE');
    const definition = shape ? referenceOf(shape[2]) : of;
    if (definition === undefined) continue;
    const name = textOf(own![0]) ?? '';
    const isOfComponents = /assembly[ _]validation/i.test(name);
    const items = referencesOf(file.parameters(referenceOf(parameters[1]))?.[1]);
    if (
      !isOfComponents &&
      !/geometric[ _]validation/i.test(name) &&
      !items.some((item) => saysSize(file, item))
    )
      continue;
    const list = found.get(definition) ?? [];
    if (!list.some((other) => other.property === property)) list.push({ property, isOfComponents });
    found.set(definition, list);
  }
  return found;
}

function saysSize(file: Part21File, item: number): boolean {
  const [measure] = measureAndUnit(file, item);
  if (measure instanceof Typed) return SIZES.test(measure.keyword);
  return file.typeOf(item) === 'CARTESIAN_POINT' && CENTROID.test(textOf(file.parameters(item)?.[0]) ?? '');
}

/** Products whose validation properties are right no longer, by PRODUCT_DEFINITION. */
export function staleValidations(
  validations: ReadonlyMap<number, readonly Validation[]>,
  before: readonly Product[],
  after: readonly Product[],
): Set<number> {
  const [then, now] = [new Contents(before), new Contents(after)];
  const found = new Set<number>();
  for (const [definition, list] of validations) {
    const isOther = !isSame(then.of(definition), now.of(definition));
    const countsOther = then.countOf(definition) !== now.countOf(definition);
    if (isOther || (countsOther && list.some(({ isOfComponents }) => isOfComponents))) found.add(definition);
  }
  return found;
}

/** The file without the validation properties of some products, with what only those needed. */
export function withoutValidations(file: Part21File, definitions: ReadonlySet<number>): Uint8Array {
  const going = new Going(file);
  for (const [definition, list] of validationsOf(file))
    if (definitions.has(definition)) for (const { property } of list) going.go(property);
  going.goOrphans();
  return splice(
    file.bytes,
    going.edits().sort((a, b) => a.start - b.start || a.end - b.end),
  );
}

/** Whether what a file is about comes to something else: another volume, area or centroid. */
export function isOtherContent(before: readonly Product[], after: readonly Product[]): boolean {
  const [then, now] = [new Contents(before), new Contents(after)];
  const placed = new Set(before.flatMap(({ occurrences }) => occurrences.map(({ child }) => child)));
  return before.some(
    ({ definition }) => !placed.has(definition) && !isSame(then.of(definition), now.of(definition)),
  );
}

/** The products that come to some others, with those. */
export function holdersIn(products: readonly Product[], held: ReadonlySet<number>): Set<number> {
  const found = new Set(held);
  const above = new Map<number, number[]>();
  for (const { definition, occurrences } of products)
    for (const { child } of occurrences) append(above, child, definition);
  for (const one of found) for (const holder of above.get(one) ?? []) found.add(holder);
  return found;
}
