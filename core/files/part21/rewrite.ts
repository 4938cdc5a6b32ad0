import { type Edit, splice } from './splice';
import { encodeString } from './strings';

/** Puts `text` in place of the bytes between two apostrophes. `start` is after the first, `end` at the second. */
export interface StringReplacement {
  start: number;
  end: number;
  text: string;
}

/**
 * Replaces string values and leaves every other byte as it was, but for further edits.
 * @param besides edits that are no strings
 * @throws RangeError when a range is not the inside of a string, or two ranges overlap
 */
export function replaceStrings(
  bytes: Uint8Array,
  replacements: readonly StringReplacement[],
  besides: readonly Edit[] = [],
): Uint8Array {
  const ordered = [...replacements].sort((a, b) => a.start - b.start);
  let at = 0;
  for (const { start, end } of ordered) {
    if (start < at || end < start || bytes[start - 1] !== 0x27 || bytes[end] !== 0x27) {
      throw new RangeError(`bytes ${start} to ${end} are not the inside of one string`);
    }
    at = end;
  }
  const edits = ordered.map(({ start, end, text }) => ({
    start,
    end,
    content: Buffer.from(encodeString(text), 'latin1'),
  }));
  return splice(
    bytes,
    [...edits, ...besides].sort((a, b) => a.start - b.start),
  );
}
