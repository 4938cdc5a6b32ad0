import { readStepLinks, type WrittenLink } from '#core/links/step';
import { Part21Error } from '#core/part21/errors';
import { Part21File, readHeaderOnly } from '#core/part21/file';
import { type Product, readStructure } from '#core/product/structure';
import { type FileRole, formatOf } from './formats';

/** What the bytes of one file say, whatever its place in a project. Plain data: it is stored by content hash. */
export interface ContentScan {
  format: string;
  role: FileRole;
  schema: string | null;
  unit: string | null;
  /** All products of the file, with those that only stand for external files. */
  products: Product[];
  /** PRODUCT_DEFINITIONs that stand for an external file. */
  placeholders: number[];
  links: WrittenLink[];
  error: string | null;
}

/** Raised whenever a scan of the same bytes would say something else than before; stored scans are then renewed. */
export const SCAN_VERSION = 5;

/**
 * Scans the bytes of one file. Never throws for broken content: `error` then says where and what, and the rest is
 * filled as far as it was understood.
 */
export function scanContent(path: string, bytes: Uint8Array): ContentScan {
  const { format, role } = formatOf(path, bytes);
  const scan: ContentScan = {
    format,
    role,
    schema: null,
    unit: null,
    products: [],
    placeholders: [],
    links: [],
    error: null,
  };
  if (format !== 'step') return scan;
  try {
    const file = Part21File.read(bytes);
    scan.schema = file.header.schemas[0] ?? null;
    scan.links = readStepLinks(file);
    const structure = readStructure(file);
    scan.unit = structure.unit;
    scan.products = structure.products;
    const linked = new Set(
      scan.links.filter(({ kind }) => kind === 'component').flatMap(({ definitions }) => definitions),
    );
    const stands = structure.products.filter(
      (product) =>
        linked.has(product.definition) && product.bodies.length === 0 && product.occurrences.length === 0,
    );
    scan.placeholders = stands.map(({ definition }) => definition);
    for (const link of scan.links) {
      if (
        link.kind === 'component' &&
        !link.definitions.some((definition) => scan.placeholders.includes(definition))
      )
        link.kind = 'attachment';
    }
    if (structure.products.some(({ occurrences }) => occurrences.length > 0)) scan.role = 'assembly';
  } catch (error) {
    scan.error = describe(error);
    scan.schema ??= readHeaderOnly(bytes)?.schemas[0] ?? null;
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

export function bodyCount(scan: ContentScan): number {
  return scan.products.reduce((sum, { bodies }) => sum + bodies.length, 0);
}
