import { endOfComment, endOfString, skipBlank } from './parameters';
import { decodeString } from './strings';

/** A string as it stands in the file: the bytes between the apostrophes, and what they say. */
export interface WrittenString {
  start: number;
  end: number;
  text: string;
}

const [OPEN, CLOSE, COMMA, APOSTROPHE, HASH, SLASH] = [0x28, 0x29, 0x2c, 0x27, 0x23, 0x2f];

/**
 * Finds one parameter of a record without reading the others into memory: a scan of a large project looks at a few
 * parameters of hundreds of thousands of instances.
 * @param open offset of the parenthesis before the first parameter
 * @returns offset of the parameter's first byte; -1 when there are fewer
 */
export function parameterStart(bytes: Uint8Array, open: number, end: number, position: number): number {
  if (bytes[open] !== OPEN) return -1;
  let depth = 0;
  let passed = 0;
  let at = open + 1;
  while (passed < position) {
    if (at >= end) return -1;
    const byte = bytes[at]!;
    if (byte === APOSTROPHE) {
      const close = endOfString(bytes, at, end);
      if (close < 0) return -1;
      at = close + 1;
      continue;
    }
    if (byte === SLASH && bytes[at + 1] === 0x2a) {
      at = endOfComment(bytes, at, end);
      continue;
    }
    if (byte === OPEN) depth++;
    else if (byte === CLOSE && depth-- === 0) return -1;
    else if (byte === COMMA && depth === 0) passed++;
    at++;
  }
  at = skipBlank(bytes, at, end);
  return at < end && bytes[at] !== CLOSE ? at : -1;
}

/** The string at an offset, also inside a typed parameter such as `IDENTIFIER('x')`. */
export function stringAt(bytes: Uint8Array, from: number, end: number): WrittenString | undefined {
  let at = from;
  while (at < end && isWord(bytes[at]!)) {
    do at++;
    while (at < end && (isWord(bytes[at]!) || (bytes[at]! >= 0x30 && bytes[at]! <= 0x39)));
    at = skipBlank(bytes, at, end);
    if (bytes[at] !== OPEN) return undefined;
    at = skipBlank(bytes, at + 1, end);
  }
  if (at >= end || bytes[at] !== APOSTROPHE) return undefined;
  const close = endOfString(bytes, at, end);
  if (close < 0) return undefined;
  return { start: at + 1, end: close, text: decodeString(bytes, at + 1, close) };
}

/** The number behind `#` at an offset. */
export function referenceAt(bytes: Uint8Array, from: number, end: number): number | undefined {
  if (bytes[from] !== HASH) return undefined;
  let id = 0;
  let at = from + 1;
  for (; at < end; at++) {
    const digit = bytes[at]! - 0x30;
    if (digit < 0 || digit > 9) break;
    id = id * 10 + digit;
  }
  return at === from + 1 ? undefined : id;
}

/** The references in the list at an offset, in order; other entries are left out, and lists within it. */
export function referencesAt(bytes: Uint8Array, from: number, end: number): number[] {
  const ids: number[] = [];
  if (bytes[from] !== OPEN) return ids;
  let depth = 0;
  for (let at = from; at < end; at++) {
    const byte = bytes[at]!;
    if (byte === HASH && depth === 1) {
      const id = referenceAt(bytes, at, end);
      if (id !== undefined) ids.push(id);
    } else if (byte === OPEN) depth++;
    else if (byte === CLOSE && --depth === 0) break;
    else if (byte === APOSTROPHE) {
      const close = endOfString(bytes, at, end);
      if (close < 0) break;
      at = close;
    } else if (byte === SLASH && bytes[at + 1] === 0x2a) at = endOfComment(bytes, at, end) - 1;
  }
  return ids;
}

function isWord(byte: number): boolean {
  return (byte >= 0x41 && byte <= 0x5a) || (byte >= 0x61 && byte <= 0x7a) || byte === 0x5f || byte === 0x21;
}
