import { endOfComment, endOfString } from './parameters';

/**
 * Calls `visit` for each `#n` in a range of bytes, outside strings and comments.
 * @param visit number of the instance, offset of its `#`, offset after its last digit
 */
export function eachReference(
  bytes: Uint8Array,
  from: number,
  end: number,
  visit: (id: number, start: number, end: number) => void,
): void {
  for (let at = from; at < end; at++) {
    const byte = bytes[at]!;
    if (byte === 0x27) {
      const close = endOfString(bytes, at, end);
      if (close < 0) return;
      at = close;
    } else if (byte === 0x2f && bytes[at + 1] === 0x2a) at = endOfComment(bytes, at, end) - 1;
    else if (byte === 0x23) {
      const start = at++;
      let id = 0;
      for (; at < end; at++) {
        const digit = bytes[at]! - 0x30;
        if (digit < 0 || digit > 9) break;
        id = id * 10 + digit;
      }
      if (at > start + 1) visit(id, start, at);
      at--;
    }
  }
}
