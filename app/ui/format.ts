import type { LinkState } from '#core/files/links/resolve';
import type { Use } from '#core/product/structure';
import { numberInWords } from './measures/measures';

export function count(value: number): string {
  return numberInWords(value, 0);
}

const SHORT = new Intl.NumberFormat('en', { notation: 'compact', maximumFractionDigits: 1 });

/** A count for a narrow column: in full up to a hundred thousand, then rounded. */
export function shortCount(value: number): string {
  return value < 100_000 ? count(value) : SHORT.format(value);
}

export function plural(value: number, one: string, many = `${one}s`): string {
  return `${count(value)} ${value === 1 ? one : many}`;
}

/** Counts of several things, without those that there are none of. '' where there are none at all. */
export function countsInWords(
  counts: readonly (readonly [value: number, one: string, many?: string])[],
): string {
  return counts.flatMap(([value, one, many]) => (value > 0 ? [plural(value, one, many)] : [])).join(', ');
}

export const STATE_WORDS: { [state in LinkState]: string } = {
  sound: 'sound',
  behind: 'behind',
  missing: 'missing',
  ambiguous: 'ambiguous',
  loop: 'loop',
};

/** What a part is for the bill of materials. */
export const USES: Readonly<Record<Use, string>> = {
  made: 'Made',
  bought: 'Bought',
  reference: 'Reference only',
};
