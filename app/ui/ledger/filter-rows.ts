import { typedSize } from '#core/typed-size';

/** Words that mean a state of a row, besides what stands in it. */
export interface FilterWords<Row> {
  readonly [word: string]: (row: Row) => boolean;
}

interface Filter<Row> {
  texts: (row: Row) => readonly string[];
  words?: FilterWords<Row>;
  /** Bytes, for `>1MB` and `<20kB`. */
  size?: (row: Row) => number;
}

/**
 * Whether a row fits what was typed: every word of it stands somewhere in the row, or is true of it.
 * @returns null where nothing was typed: every row fits
 */
export function filterFor<Row>(
  typed: string,
  { texts, words = {}, size }: Filter<Row>,
): ((row: Row) => boolean) | null {
  const wanted = typed.trim().toLowerCase().split(/\s+/).filter(Boolean);
  if (wanted.length === 0) return null;
  const tests = wanted.map((word): ((row: Row) => boolean) => {
    const limit = size && typedSize(word);
    if (limit) return (row) => (limit.than === '>' ? size(row) > limit.bytes : size(row) < limit.bytes);
    const isTrue = Object.hasOwn(words, word) ? words[word]! : () => false;
    return (row) => isTrue(row) || texts(row).some((text) => text.toLowerCase().includes(word));
  });
  return (row) => tests.every((test) => test(row));
}
