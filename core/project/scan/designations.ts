import { append } from '#core/multimap';
import type { Product } from '#core/product/structure';
import { type ContentScan, ownProducts, productsByDefinition, topProductsOf } from './content';

/*
 * By what a part is known: the ids and names that its file carries, and that stand-ins ask for. Many systems write words that
 * say nothing (every part is `MASTER`); those are kept apart.
 */

/** What a stand-in asks for, or a file offers. */
export type Designation = Pick<Product, 'id' | 'name' | 'statedSize'>;

/** Words that systems write where nobody gave a name. */
const GENERIC =
  /master$|^(default|unnamed|untitled|no ?name|none|null|open ?cascade.*)$|^(part|solid|body|component|product|shape|assembly|assem|asm)?[\s_.#-]*\d*$/;

/** A word as it is compared. @example fold(' Lid ') // 'lid' */
export function fold(text: string): string {
  return text.normalize('NFKC').trim().toLowerCase();
}

/** Whether a folded word says nothing of which part it is. @example isGeneric('solid 3') // true */
export function isGeneric(word: string): boolean {
  return GENERIC.test(word);
}

/** Folded ids and names, each once, without those that say nothing. */
export function wordsOf(designations: readonly Designation[]): Set<string> {
  const words = new Set(designations.flatMap(({ id, name }) => [fold(id), fold(name)]));
  for (const word of words) if (isGeneric(word)) words.delete(word);
  return words;
}

/** What the holder asks for with a link: its stand-ins. */
export function wantedBy(scan: ContentScan, definitions: readonly number[]): Product[] {
  const products = productsByDefinition(scan);
  return definitions.flatMap((definition) => products.get(definition) ?? []);
}

/** What a file offers to a stand-in: what stands at its top. */
export function offeredBy(scan: ContentScan): Product[] {
  if (scan.error !== null) return [];
  const tops = topProductsOf(scan);
  return tops.length > 0 ? tops : ownProducts(scan);
}

/** Two stated sizes are the same when they differ by less than this part of them. */
const SAME_SIZE = 1e-6;

/** Whether two state the same volume and area; undefined where they state nothing that can be compared. */
export function sameStatedSize(
  wanted: readonly Designation[],
  offered: readonly Designation[],
): boolean | undefined {
  const [asked, there] = [statedSizeOf(wanted), statedSizeOf(offered)];
  let known: boolean | undefined;
  for (const of of ['volume', 'area'] as const) {
    const [a, b] = [asked?.[of], there?.[of]];
    if (a === undefined || b === undefined) continue;
    if (Math.abs(a - b) > SAME_SIZE * Math.max(a, b)) return false;
    known = true;
  }
  return known;
}

function statedSizeOf(designations: readonly Designation[]) {
  return designations.find(({ statedSize }) => statedSize)?.statedSize;
}

/** Volumes that are the same have the same key, or neighbouring ones. */
function keyOfVolume(volume: number): number {
  return Math.round(Math.log(volume) / SAME_SIZE / 2);
}

/** Finds what has a stated volume. */
export class VolumeIndex<Item> {
  private readonly items = new Map<number, { item: Item; designations: readonly Designation[] }[]>();

  add(item: Item, designations: readonly Designation[]): void {
    const volume = statedSizeOf(designations)?.volume;
    if (volume === undefined) return;
    append(this.items, keyOfVolume(volume), { item, designations });
  }

  /** All that state the volume that is asked for, and no other area. */
  like(wanted: readonly Designation[]): Item[] {
    const volume = statedSizeOf(wanted)?.volume;
    if (volume === undefined) return [];
    const key = keyOfVolume(volume);
    return [key - 1, key, key + 1].flatMap((near) =>
      (this.items.get(near) ?? [])
        .filter(({ designations }) => sameStatedSize(wanted, designations))
        .map(({ item }) => item),
    );
  }
}
