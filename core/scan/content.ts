import { readDocumentSources } from '#core/links/document-source';
import { associatedStandIns } from '#core/links/renew-documents';
import { hasFolderApart } from '#core/links/renew-folders';
import { readStepLinks, type WrittenLink } from '#core/links/step';
import { Part21Error } from '#core/part21/errors';
import { Part21File, readHeaderOnly } from '#core/part21/file';
import { isInOrder } from '#core/part21/record-order';
import { type Product, readStructure, rootProducts } from '#core/product/structure';
import { damageOf } from './damage';
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
  /** What it writes in a form that others do not follow, and that can be renewed (core/repair/renew). */
  oldForms: OldForm[];
  /** Why it cannot be read. */
  error: string | null;
  /** What cannot be trusted in a file that can be read: it refers to instances that are not there. */
  damage: string | null;
}

/**
 * Stand-ins that list their documents, folders apart from names, sources that are documents, units whose records are out of
 * order.
 */
export type OldForm = 'stand-ins' | 'folders' | 'sources' | 'units';

/** Raised whenever a scan of the same bytes would say something else than before; stored scans are then renewed. */
export const SCAN_VERSION = 6;

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
    oldForms: [],
    error: null,
    damage: null,
  };
  if (format !== 'step') return scan;
  try {
    const file = Part21File.read(bytes, { check: true });
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
    scan.links = withoutFalseComponents(scan.links, scan.placeholders);
    scan.oldForms = oldFormsOf(file, scan);
    scan.damage = damageOf(file, structure.products);
    if (structure.products.some(({ occurrences }) => occurrences.length > 0)) scan.role = 'assembly';
  } catch (error) {
    scan.error = describe(error);
    scan.schema ??= readHeaderOnly(bytes)?.schemas[0] ?? null;
  }
  return scan;
}

/** Documents of products that have a shape of their own are attachments; written alike, they are one link. */
function withoutFalseComponents(links: WrittenLink[], placeholders: readonly number[]): WrittenLink[] {
  const isComponent = (link: WrittenLink) =>
    link.definitions.some((definition) => placeholders.includes(definition));
  if (links.every((link) => link.kind !== 'component' || isComponent(link))) return links;
  const kept = new Map<string, WrittenLink>();
  for (const link of links) {
    if (link.kind === 'component' && !isComponent(link)) link.kind = 'attachment';
    const key = `${link.kind} ${link.written}`;
    const known = kept.get(key);
    if (known) known.places.push(...link.places);
    else kept.set(key, link);
  }
  return [...kept.values()];
}

function oldFormsOf(file: Part21File, { links, placeholders }: ContentScan): OldForm[] {
  const forms: OldForm[] = [];
  if (links.length > 0 && associatedStandIns(file, placeholders).length > 0) forms.push('stand-ins');
  if (links.some(hasFolderApart)) forms.push('folders');
  if (links.some(({ kind }) => kind === 'source') && readDocumentSources(file).size > 0)
    forms.push('sources');
  if (unitsOutOfOrder(file).length > 0) forms.push('units');
  return forms;
}

/** Units that we once wrote with their records out of order; other files are not ours to mend. */
export function unitsOutOfOrder(file: Part21File): number[] {
  if (file.header.preprocessor !== 'Stone Tray') return [];
  return file.complexIdsWith('NAMED_UNIT').filter((id) => !isInOrder(file, id));
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

const definitionMaps = new WeakMap<ContentScan, ReadonlyMap<number, Product>>();

/** The products of a file by their PRODUCT_DEFINITION. */
export function productsByDefinition(scan: ContentScan): ReadonlyMap<number, Product> {
  let map = definitionMaps.get(scan);
  if (!map) {
    map = new Map(scan.products.map((product) => [product.definition, product]));
    definitionMaps.set(scan, map);
  }
  return map;
}

/** The products that a file is about: those of its own that nothing in it places. */
export function topProductsOf(scan: ContentScan): Product[] {
  const own = new Set(ownProducts(scan));
  return rootProducts(scan.products).filter((product) => own.has(product));
}

export function bodyCount(scan: ContentScan): number {
  return scan.products.reduce((sum, { bodies }) => sum + bodies.length, 0);
}
