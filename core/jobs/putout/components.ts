import type { Product } from '#core/product/structure';
import { type ContentScan, ownProducts } from '#core/project/scan/content';

/** A component that lies in the file of its assembly. */
export interface InFileComponent {
  /** Its PRODUCT_DEFINITION. */
  definition: number;
  id: string;
  name: string;
  /** How often the products of the file place it, each level counted once. */
  placings: number;
  bodies: number;
  /** Components directly below it. */
  components: number;
  /** 1 for what only the top of the file places. */
  level: number;
}

/** Components that lie in the file itself, what is placed before what places it. Those in a circle are left out. */
export function inFileComponents(scan: ContentScan): InFileComponent[] {
  const own = new Map(ownProducts(scan).map((product) => [product.definition, product]));
  const placings = new Map<number, number>();
  for (const { occurrences } of own.values())
    for (const { child } of occurrences) placings.set(child, (placings.get(child) ?? 0) + 1);
  const levels = levelsOf(own, placings);
  return [...own.values()]
    .filter(({ definition }) => placings.has(definition) && levels.has(definition))
    .map((product) => ({
      definition: product.definition,
      id: product.id,
      name: product.name,
      placings: placings.get(product.definition)!,
      bodies: product.bodies.length,
      components: new Set(product.occurrences.map(({ child }) => child)).size,
      level: levels.get(product.definition)!,
    }))
    .sort((a, b) => b.level - a.level || a.definition - b.definition);
}

/** How far below the top of the file each product is at most. */
function levelsOf(
  own: ReadonlyMap<number, Product>,
  placings: ReadonlyMap<number, number>,
): Map<number, number> {
  const waiting = new Map(placings);
  const levels = new Map<number, number>();
  const ready = [...own.keys()].filter((definition) => !waiting.has(definition));
  for (const definition of ready) levels.set(definition, 0);
  for (const definition of ready)
    for (const { child } of own.get(definition)?.occurrences ?? []) {
      levels.set(child, Math.max(levels.get(child) ?? 0, levels.get(definition)! + 1));
      const left = waiting.get(child)! - 1;
      waiting.set(child, left);
      if (left === 0) ready.push(child);
    }
  for (const [definition, left] of waiting) if (left > 0) levels.delete(definition);
  return levels;
}
