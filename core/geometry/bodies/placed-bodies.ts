import { IDENTITY, isIdentity, type Matrix4, multiply } from '#core/product/matrix';
import { type Body, type Product, rootProducts } from '#core/product/structure';
import { Refusal } from '#core/refusal';

/** What is split of a file: all of it, or one of its products with everything below. */
export interface SplitScope {
  /** Id or name of the product that was asked for; null for everything in the file. */
  wanted: string | null;
  /** The product at the top: it gives the assembly its name and its id. */
  product: Product;
  /** Every body as often as it is placed, where it stands below the top, solids first. */
  bodies: Body[];
  /** The product that each body belongs to, by the body's number. */
  productOf: ReadonlyMap<number, Product>;
  /** Whether the file itself puts products together. */
  isAssembly: boolean;
  /** Names of components that lie in other files: they are not split. */
  elsewhere: string[];
}

/** More placings than any page shows; of structures that multiply without end not more are walked. */
export const MOST_PLACED = 20_000;

/**
 * Finds the bodies of a file: where their parts lie in the file of an assembly, at each of their places.
 * @param path of the file, for messages
 * @param wanted id or name of a product; null for everything in the file
 * @throws Refusal for a file without bodies, and for a product that it does not have
 */
export function placedBodies(path: string, products: readonly Product[], wanted: string | null): SplitScope {
  const byDefinition = new Map(products.map((product) => [product.definition, product]));
  const roots = wanted === null ? rootProducts(products) : [productNamed(path, products, wanted)];
  const bodies: Body[] = [];
  const productOf = new Map<number, Product>();
  const elsewhere = new Set<string>();
  let isAssembly = false;
  const counts = placedBodyCounts(products);
  if (roots.reduce((sum, { definition }) => sum + counts.get(definition)!, 0) > MOST_PLACED)
    throw new Refusal(
      `${path} places more than ${MOST_PLACED.toLocaleString('en')} bodies. Choose one of its products.`,
    );
  /** Products without a body below them: what they tell, they tell once. */
  const barren = new Set<Product>();
  const visit = (product: Product, placement: Matrix4, above: readonly Product[]): void => {
    if (above.includes(product) || barren.has(product)) return;
    if (counts.get(product.definition) === 0) barren.add(product);
    // A part of one body goes by the part's name, which is mostly the better one; in a plain part the body has its own.
    const isNamedAfterPart = product.bodies.length === 1 && above.length > 0;
    for (const body of product.bodies) {
      productOf.set(body.id, product);
      const where = body.placement ? multiply(placement, body.placement) : placement;
      const { placement: _, ...rest } = body;
      const named = isNamedAfterPart ? { ...rest, name: product.name } : rest;
      bodies.push(isIdentity(where) ? named : { ...named, placement: where });
    }
    for (const { child, placement: at } of product.occurrences) {
      isAssembly = true;
      const placed = byDefinition.get(child);
      if (!placed) continue;
      if (placed.bodies.length === 0 && placed.occurrences.length === 0) elsewhere.add(placed.name);
      visit(placed, multiply(placement, at), [...above, product]);
    }
  };
  for (const root of roots) visit(root, IDENTITY, []);
  if (bodies.length === 0)
    throw new Refusal(
      isAssembly
        ? `${path} is an assembly of other files. Split one of the parts that it places.`
        : `${path} has no bodies.`,
    );
  const withBodies = roots.find(({ bodies: own }) => own.length > 0);
  return {
    wanted,
    product: isAssembly
      ? (roots.find(({ occurrences }) => occurrences.length > 0) ?? roots[0]!)
      : withBodies!,
    bodies: bodies.sort((a, b) => Number(a.kind === 'surface') - Number(b.kind === 'surface')),
    productOf,
    isAssembly,
    elsewhere: [...elsewhere],
  };
}

function productNamed(path: string, products: readonly Product[], wanted: string): Product {
  const found =
    products.find(({ definition }) => `#${definition}` === wanted) ??
    products.find(({ id }) => id === wanted) ??
    products.find(({ name }) => name === wanted) ??
    products.find(({ id, name }) => [id, name].some((word) => word.toLowerCase() === wanted.toLowerCase()));
  if (found) return found;
  const known = products.map(({ id, name }) => id || name);
  const more = known.length > 12 ? ` and ${known.length - 12} more` : '';
  throw new Refusal(`${path} has no product ${wanted}. It has ${known.slice(0, 12).join(', ')}${more}.`);
}

/** How many bodies each product places, with all below it. Each product is walked once. */
export function placedBodyCounts(products: readonly Product[]): Map<number, number> {
  const byDefinition = new Map(products.map((product) => [product.definition, product]));
  const counts = new Map<number, number>();
  const walking = new Set<number>();
  const count = (product: Product): number => {
    const { definition, bodies, occurrences } = product;
    const known = counts.get(definition);
    if (known !== undefined) return known;
    if (walking.has(definition)) return 0;
    walking.add(definition);
    let sum = bodies.length;
    for (const { child } of occurrences) {
      const placed = byDefinition.get(child);
      if (placed) sum += count(placed);
    }
    walking.delete(definition);
    counts.set(definition, sum);
    return sum;
  };
  for (const product of products) count(product);
  return counts;
}
