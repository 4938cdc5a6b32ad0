import { Part21File } from '#core/files/part21/file';
import { replaceStrings, type StringReplacement } from '#core/files/part21/rewrite';
import type { ProductName } from '#core/project/formats/link-format';

/** The file with other ids and names for some of its products, stand-ins or its own. No other byte changes. */
export function withProductsNamed(bytes: Uint8Array, products: readonly ProductName[]): Uint8Array {
  if (products.length === 0) return bytes;
  const file = Part21File.read(bytes);
  const replacements = new Map<number, StringReplacement>();
  for (const { definition, id, name } of products) {
    const product = file.referenceOf(file.referenceOf(definition, 2), 2);
    for (const [position, text] of [id, name].entries()) {
      const string = file.stringOf(product, position);
      if (string && text !== undefined) replacements.set(string.start, { ...string, text });
    }
  }
  return replaceStrings(bytes, [...replacements.values()]);
}
