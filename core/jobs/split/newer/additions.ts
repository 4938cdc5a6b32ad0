import type { Part21File } from '#core/files/part21/file';
import { ReferenceTable } from '#core/files/part21/references';
import { belongsToSource } from '#core/product/source/tie';

/** What a split writes that nothing else refers to; all the rest hangs on these. */
const WRITTEN = new Set([
  'APPLICATION_PROTOCOL_DEFINITION',
  'APPLIED_DOCUMENT_REFERENCE',
  'APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT',
  'APPLIED_IDENTIFICATION_ASSIGNMENT',
  'DRAUGHTING_MODEL',
  'INVISIBILITY',
  'MATERIAL_DESIGNATION',
  'MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION',
  'PRESENTATION_LAYER_ASSIGNMENT',
  'OVER_RIDING_STYLED_ITEM',
  'PRODUCT_RELATED_PRODUCT_CATEGORY',
  'SHAPE_DEFINITION_REPRESENTATION',
  'STYLED_ITEM',
]);

/**
 * What somebody has added to a component file since it was split off: a tolerance, a property, another product. Every
 * instance of a file hangs on some that nothing refers to, and of these a split writes only a few types.
 * @returns each addition once, in words; none for a file that is as the split wrote it, whatever its body, its colours
 * and its names are by now
 */
export function additionsOf(file: Part21File): string[] {
  const { preprocessor } = file.header;
  if (preprocessor !== 'Stone Tray')
    return [`${preprocessor === '' ? 'Another program' : preprocessor} has written it`];
  const { targets } = ReferenceTable.of(file);
  const { count, ids, types, keywords } = file.index;
  const isReferred = new Uint8Array(count);
  for (const target of targets) if (target >= 0) isReferred[target] = 1;
  const found = new Set<string>();
  for (let position = 0; position < count; position++) {
    const keyword = keywords[types[position]!]!;
    if (isReferred[position] || WRITTEN.has(keyword) || belongsToSource(file, ids[position]!)) continue;
    found.add(inWords(keyword));
  }
  return [...found].sort();
}

/** `GEOMETRIC_TOLERANCE` as one says it. */
function inWords(keyword: string): string {
  return keyword === '' ? 'a complex instance' : keyword.toLowerCase().replaceAll('_', ' ');
}
