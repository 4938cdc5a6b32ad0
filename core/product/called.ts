import type { Product } from './structure';

/** Whether somebody means a product by a word: its name, its id, or the number of its PRODUCT_DEFINITION. */
export function isCalled(
  { definition, id, name }: Pick<Product, 'definition' | 'id' | 'name'>,
  word: string,
): boolean {
  return String(definition) === word || id === word || name === word;
}

/** A designation that nothing has yet: the wanted one, or else with a number behind it. */
export function freeDesignation(wanted: string, taken: { has(word: string): boolean }, before = '-'): string {
  let word = wanted;
  for (let n = 2; taken.has(word); n++) word = `${wanted}${before}${n}`;
  return word;
}
