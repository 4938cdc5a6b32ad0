import type { Part21File } from '#core/files/part21/file';
import { lengthUnitOfContext } from '#core/product/units';

/** The numbers of what a product's identity and shape hang on (ISO 10303-41); what a file leaves out is left out. */
export interface ProductHead {
  definition: number;
  formation?: number;
  product?: number;
  /** PRODUCT_DEFINITION_SHAPE. */
  shape?: number;
  /** SHAPE_DEFINITION_REPRESENTATION. */
  shapeRepresentation?: number;
  representation?: number;
}

export const HEAD_PARTS = [
  'definition',
  'formation',
  'product',
  'shape',
  'shapeRepresentation',
  'representation',
] as const satisfies readonly (keyof ProductHead)[];

/** The heads of some products, each with the first of its representations. */
export function headsOf(file: Part21File, definitions: Iterable<number>): Map<number, ProductHead> {
  const heads = new Map<number, ProductHead>();
  for (const definition of definitions) {
    const formation = file.referenceOf(definition, 2);
    const product = file.referenceOf(formation, 2);
    heads.set(definition, {
      definition,
      ...(formation !== undefined && { formation }),
      ...(product !== undefined && { product }),
    });
  }
  for (const id of file.idsOfType('SHAPE_DEFINITION_REPRESENTATION')) {
    const [shape, representation] = [file.referenceOf(id, 0), file.referenceOf(id, 1)];
    const head = heads.get(file.referenceOf(shape, 2) ?? 0);
    if (!head || shape === undefined || representation === undefined || head.representation !== undefined)
      continue;
    Object.assign(head, { shape, shapeRepresentation: id, representation });
  }
  return heads;
}

/** How many millimetres the unit of a representation is. */
export function millimetresOf(file: Part21File, representation: number | undefined): number {
  const context = file.referenceOf(representation, 2);
  return (context === undefined ? undefined : lengthUnitOfContext(file, context)?.millimetres) ?? 1;
}

/** The axis placements of a representation by which it is placed. */
export function placementsUsed(
  file: Part21File,
  representation: number,
  used: ReadonlySet<number>,
): number[] {
  return file
    .referencesOf(representation, 1)
    .filter((item) => used.has(item) && file.typeOf(item) === 'AXIS2_PLACEMENT_3D');
}

/** What transformations and mapped items of a file place by (ISO 10303-43). */
export function placingItems(file: Part21File): Set<number> {
  const items = new Set<number>();
  for (const id of file.idsOfType('ITEM_DEFINED_TRANSFORMATION'))
    for (const position of [2, 3]) items.add(file.referenceOf(id, position) ?? 0);
  for (const id of file.idsOfType('REPRESENTATION_MAP')) items.add(file.referenceOf(id, 0) ?? 0);
  return items;
}
