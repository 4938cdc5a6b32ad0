import { append } from '#core/multimap';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import type { Occurrence, Product } from '#core/product/structure';

/** More placings of one assembly than anybody means to change at once. */
export const MOST_PLACINGS = 2000;

/** An occurrence with the product that holds it. */
export interface Held {
  parent: Product;
  occurrence: Occurrence;
}

/** The levels of one file: what is placed where. */
export class Levels {
  readonly byDefinition: ReadonlyMap<number, Product>;
  /** Occurrences by what they place. */
  readonly of = new Map<number, Held[]>();

  constructor(readonly products: readonly Product[]) {
    this.byDefinition = new Map(products.map((product) => [product.definition, product]));
    for (const parent of products)
      for (const occurrence of parent.occurrences) append(this.of, occurrence.child, { parent, occurrence });
  }

  private readonly known = new Map<number, ReadonlySet<number>>();

  /** Everything below a product, itself included. */
  below(definition: number): ReadonlySet<number> {
    const known = this.known.get(definition);
    if (known) return known;
    const found = new Set([definition]);
    for (const one of found)
      for (const { child } of this.byDefinition.get(one)?.occurrences ?? []) found.add(child);
    this.known.set(definition, found);
    return found;
  }

  /**
   * Every place of a product in another one, or in what is at the top where none is said; at most MOST_PLACINGS and one more.
   */
  places(definition: number, inside: number | null): Matrix4[] {
    const found: Matrix4[] = [];
    const open: { at: number; placement: Matrix4; depth: number }[] = [
      { at: definition, placement: IDENTITY, depth: 0 },
    ];
    for (let next = open.pop(); next && found.length <= MOST_PLACINGS; next = open.pop()) {
      const { at, placement, depth } = next;
      const above = this.of.get(at) ?? [];
      if (at === inside || (inside === null && above.length === 0)) {
        found.push(placement);
        continue;
      }
      // An assembly that contains itself has no end.
      if (depth > this.products.length) continue;
      for (const { parent, occurrence } of above)
        open.push({
          at: parent.definition,
          placement: multiply(occurrence.placement, placement),
          depth: depth + 1,
        });
    }
    return found;
  }
}
