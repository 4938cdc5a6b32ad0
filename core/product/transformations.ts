import type { Part21File } from '#core/files/part21/file';
import { referenceOf } from '#core/files/part21/parameters';

/** How two representations lie to each other (ISO 10303-43): an axis placement in one of them lies on one in the other. */
export interface Transformation {
  operator: number;
  /** Representations. */
  first: number;
  second: number;
  /** Axis placements. */
  inFirst: number;
  inSecond: number;
  /** The operator names them the other way round than the relationship its representations. */
  isSwapped: boolean;
}

/**
 * The transformation of a relationship. Writers put the pair in either order, so what counts is which representation an axis placement is
 * an item of.
 */
export function transformationOf(
  file: Part21File,
  relationship: number,
  hasItem: (representation: number, item: number) => boolean,
): Transformation | undefined {
  const pair =
    file.entity(relationship, 'REPRESENTATION_RELATIONSHIP') ??
    file.entity(relationship, 'SHAPE_REPRESENTATION_RELATIONSHIP');
  const operator = referenceOf(
    file.entity(relationship, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')?.at(-1),
  );
  const items = file.entity(operator, 'ITEM_DEFINED_TRANSFORMATION');
  const [first, second] = [referenceOf(pair?.[2]), referenceOf(pair?.[3])];
  const [itemA, itemB] = [referenceOf(items?.[2]), referenceOf(items?.[3])];
  if (
    operator === undefined ||
    first === undefined ||
    second === undefined ||
    itemA === undefined ||
    itemB === undefined
  )
    return undefined;
  const isSwapped =
    !hasItem(first, itemA) && !hasItem(second, itemB) && (hasItem(second, itemA) || hasItem(first, itemB));
  const [inFirst, inSecond] = isSwapped ? [itemB, itemA] : [itemA, itemB];
  return { operator, first, second, inFirst, inSecond, isSwapped };
}
