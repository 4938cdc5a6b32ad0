import { endOfString } from './parameters';

/**
 * Calls `visit` for each string in a range of bytes that holds an instance; stops at one that never ends.
 * @param visit offset of the first character, offset of the closing apostrophe
 */
export function eachString(
  bytes: Uint8Array,
  from: number,
  end: number,
  visit: (start: number, close: number) => void,
): void {
  for (let at = from; at < end; at++) {
    if (bytes[at] !== 0x27) continue;
    const close = endOfString(bytes, at, end);
    if (close < 0) return;
    visit(at + 1, close);
    at = close;
  }
}
