import type { Product } from '#core/product/structure';
import { productsByDefinition } from '#core/project/scan/content';
import type { Project } from '#core/project/scan/project';
import { keyOf, linkedProduct, type ProductPlace, placingsOf, topProducts } from '#core/project/scan/tree';

/** A product that stands for a part in another file. */
export interface StandsForPart {
  holder: string;
  product: Product;
}

/** Each part that a file is about, or places at any depth, once; in the order in which they are met. */
export function* partsBelow(project: Project, file: string): Generator<ProductPlace> {
  const open = topProducts(project, file);
  const known = new Set(open.map(keyOf));
  for (const place of open) {
    yield place;
    for (const { target } of placingsOf(project, place)) {
      const key = keyOf(target);
      if (known.has(key)) continue;
      known.add(key);
      open.push(target);
    }
  }
}

/** What stands for a part in the files that place it. */
export function standInsFor(project: Project, { path, product }: ProductPlace): StandsForPart[] {
  const found: StandsForPart[] = [];
  for (const { kind, holder, definitions } of project.usedBy.get(path) ?? []) {
    if (kind !== 'component') continue;
    const { scan } = project.files.get(holder)!;
    const products = productsByDefinition(scan);
    for (const definition of definitions) {
      const standIn = products.get(definition);
      if (!standIn || !scan.placeholders.includes(definition)) continue;
      if (linkedProduct(project, path, standIn)?.product.definition === product.definition)
        found.push({ holder, product: standIn });
    }
  }
  return found;
}
