import type { Product } from '#core/product/structure';
import { type ContentScan, ownProducts } from '#core/project/scan/content';

/** Products of a file whose bodies could be components: bodies beside components, or several in one part. */
export function productsWithLooseBodies(scan: ContentScan): Product[] {
  return ownProducts(scan).filter(
    ({ bodies, occurrences }) => bodies.length > 1 || (bodies.length > 0 && occurrences.length > 0),
  );
}
