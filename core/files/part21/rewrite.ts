import { splice } from './splice';
import { encodeString } from './strings';

/** Puts `text` in place of the bytes between two apostrophes. `start` is after the first, `end` at the second. */
export interface StringReplacement {
  start: number;
  end: number;
  text: string;
}

/**
 * Replaces string values and leaves every other byte as it was.
 * @throws RangeError when a range is not the inside of a string, or two ranges overlap
 */
export function replaceStrings(bytes: Uint8Array, replacements: readonly StringReplacement[]): Uint8Array {
  const ordered = [...replacements].sort((a, b) => a.start - b.start);
  let at = 0;
  for (const { start, end } of ordered) {
    if (start < at || end < start || bytes[start - 1] !== 0x27 || bytes[end] !== 0x27) {
      throw new RangeError(`bytes ${start} to ${end} are not the inside of one string`);
    }
    at = end;
  }
  return splice(
    bytes,
    ordered.map(({ start, end, text }) => ({
      start,
      end,
      content: Buffer.from(encodeString(text), 'latin1'),
    })),
  );
}
