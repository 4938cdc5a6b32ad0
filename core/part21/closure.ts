import type { Part21File } from './file';
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

/**
 * Everything that some instances need: themselves, what they refer to, what that refers to, and so on.
 * References in circles are followed once; references to instances that are not there are left out.
 * Cost grows with the bytes of the instances found.
 * @param known instances that are not followed and not returned
 */
export function closureOf(
  file: Part21File,
  starts: Iterable<number>,
  known?: { has(id: number): boolean },
): Set<number> {
  const found = new Set<number>();
  const add = (id: number) => {
    if (!known?.has(id) && !found.has(id) && file.has(id)) found.add(id);
  };
  for (const id of starts) add(id);
  for (const id of found) {
    const position = file.position(id)!;
    eachReference(file.bytes, file.index.contents[position]!, file.index.ends[position]!, add);
  }
  return found;
}
