import { Part21Error } from '#core/files/part21/errors';
import { onceFor } from '#core/once';
import { type Product, rootProducts } from '#core/product/structure';
import { formatOf, linkFormatOf } from '#core/project/formats/formats';
import type { FileFacts, FileRole } from '#core/project/formats/link-format';

/** What the bytes of one file say, whatever its place in a project. Plain data: it is stored by content hash. */
export interface ContentScan extends FileFacts {
  format: string;
  role: FileRole;
  /** Why it cannot be read. */
  error: string | null;
}

/**
 * Scans the bytes of one file. Never throws for broken content: `error` then says where and what, and the rest is
 * filled as far as it was understood.
 */
export function scanContent(path: string, bytes: Uint8Array): ContentScan {
  const format = linkFormatOf(path, bytes);
  const scan: ContentScan = {
    ...formatOf(path, bytes, format),
    schema: null,
    unit: null,
    products: [],
    placeholders: [],
    links: [],
    oldForms: [],
    error: null,
    damage: null,
  };
  try {
    if (format?.read) format.read(bytes, scan);
    else scan.links = format?.links(bytes) ?? [];
  } catch (error) {
    scan.error = describe(error);
  }
  return scan;
}

function describe(error: unknown): string {
  if (error instanceof Part21Error) {
    const { line, column } = error.place;
    return `Line ${line}, column ${column}: ${error.problem}; expected ${error.expected}.`;
  }
  return error instanceof Error ? error.message : String(error);
}

/** The products that the file itself defines. */
export function ownProducts(scan: ContentScan): Product[] {
  const placeholders = new Set(scan.placeholders);
  return scan.products.filter(({ definition }) => !placeholders.has(definition));
}

/** The products of a file by their PRODUCT_DEFINITION. */
export const productsByDefinition = onceFor(
  ({ products }: ContentScan): ReadonlyMap<number, Product> =>
    new Map(products.map((product) => [product.definition, product])),
);

/** The products that a file is about: those of its own that nothing in it places. */
export function topProductsOf(scan: ContentScan): Product[] {
  const own = new Set(ownProducts(scan));
  return rootProducts(scan.products).filter((product) => own.has(product));
}

export function bodyCount(scan: ContentScan): number {
  return scan.products.reduce((sum, { bodies }) => sum + bodies.length, 0);
}
