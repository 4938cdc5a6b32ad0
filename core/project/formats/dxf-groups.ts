/** One group of a drawing: its code, and where its value stands. */
export interface Group {
  code: number;
  /** Bytes of the value, without the line end or the zero behind it. */
  start: number;
  end: number;
  /** Of a small whole number. */
  number?: number;
}

/** What a binary drawing begins with ends so (DXF Reference, binary DXF). */
const BINARY_MARK = 'Binary DXF\r\n\u001a\u0000';
const BINARY_START = 22;
const [CARRIAGE_RETURN, LINE_FEED] = [0x0d, 0x0a];

/** The groups of a drawing, in order, as far as its end is said. @throws Error that says where it is no DXF, or ends too early */
export function readGroups(bytes: Uint8Array): Iterable<Group> {
  const head = Buffer.from(bytes.subarray(0, BINARY_START)).toString('latin1');
  return head.endsWith(BINARY_MARK) ? binaryGroups(bytes) : textGroups(bytes);
}

function* textGroups(bytes: Uint8Array): Iterable<Group> {
  let at = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
  let line = 0;
  const nextLine = (): { start: number; end: number } | undefined => {
    if (at >= bytes.length) return undefined;
    const start = at;
    while (at < bytes.length && bytes[at] !== LINE_FEED && bytes[at] !== CARRIAGE_RETURN) at++;
    const end = at;
    if (bytes[at] === CARRIAGE_RETURN && bytes[at + 1] === LINE_FEED) at++;
    at++;
    line++;
    return { start, end };
  };
  for (let isFirst = true; ; isFirst = false) {
    const written = nextLine();
    const code = written && codeIn(bytes, written);
    if (code === undefined) {
      const isEnd = !written || (isBlank(bytes, written) && at >= bytes.length);
      if (isEnd && !isFirst) return;
      throw new Error(
        isFirst
          ? 'Line 1: this is no DXF: expected a group code.'
          : `Line ${line}, column 1: expected a group code, a whole number.`,
      );
    }
    const value = nextLine();
    if (!value) throw new Error(`Line ${line}: it ends behind the group code ${code}; a value is missing.`);
    const isSmall = code >= 60 && code < 80;
    yield { code, ...value, ...(isSmall && { number: codeIn(bytes, value) }) };
    if (code === 0 && value.end - value.start >= 3 && isWord(bytes, value, 'EOF')) return;
  }
}

/** A whole number with blanks around it; undefined where a line holds anything else. */
function codeIn(bytes: Uint8Array, { start, end }: { start: number; end: number }): number | undefined {
  if (end - start > 24) return undefined;
  const text = Buffer.from(bytes.buffer, bytes.byteOffset + start, end - start).toString('latin1');
  return /^\s*-?\d{1,9}\s*$/.test(text) ? Number(text) : undefined;
}

function isBlank(bytes: Uint8Array, { start, end }: { start: number; end: number }): boolean {
  for (let at = start; at < end; at++)
    if (bytes[at] !== 0x20 && bytes[at] !== 0x1a && bytes[at] !== 0) return false;
  return true;
}

function isWord(
  bytes: Uint8Array,
  { start, end }: Group | { start: number; end: number },
  word: string,
): boolean {
  return (
    Buffer.from(bytes.buffer, bytes.byteOffset + start, end - start)
      .toString('latin1')
      .trim() === word
  );
}

/** Bytes of a value by its group code; 0 where a zero ends it, -1 where its first byte says how many follow. */
function sizeOf(code: number): number {
  if (code < 10) return 0;
  if (code < 60) return 8;
  if (code < 80) return 2;
  if (code >= 90 && code < 100) return 4;
  if (code >= 110 && code < 150) return 8;
  if (code >= 160 && code < 170) return 8;
  if (code >= 170 && code < 180) return 2;
  if (code >= 210 && code < 240) return 8;
  if (code >= 270 && code < 290) return 2;
  if (code >= 290 && code < 300) return 1;
  if ((code >= 310 && code < 320) || code === 1004) return -1;
  if ((code >= 370 && code < 390) || (code >= 400 && code < 410)) return 2;
  if ((code >= 420 && code < 430) || (code >= 440 && code < 460)) return 4;
  if (code >= 460 && code < 470) return 8;
  if (code >= 1010 && code < 1060) return 8;
  if (code >= 1060 && code < 1071) return 2;
  return code === 1071 ? 4 : 0;
}

function* binaryGroups(bytes: Uint8Array): Iterable<Group> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const short = (at: number) => new Error(`Byte ${at}: it ends in the middle of a group.`);
  // Codes of two bytes since release 13: the first group is a 0 in either way, and `SECTION` follows.
  const isWide = bytes[BINARY_START] === 0 && bytes[BINARY_START + 1] === 0;
  for (let at = BINARY_START; at < bytes.length; ) {
    const begins = at;
    let code: number;
    if (isWide) {
      if (at + 2 > bytes.length) throw short(begins);
      code = view.getInt16(at, true);
      at += 2;
    } else {
      code = bytes[at++]!;
      if (code === 255) {
        if (at + 2 > bytes.length) throw short(begins);
        code = view.getInt16(at, true);
        at += 2;
      }
    }
    const size = sizeOf(code);
    const start = size < 0 ? at + 1 : at;
    let end = start + size;
    if (size < 0) end = start + (bytes[at] ?? 0);
    if (size === 0) {
      end = bytes.indexOf(0, start);
      if (end < 0) throw short(begins);
    }
    if (end > bytes.length) throw short(begins);
    at = size === 0 ? end + 1 : end;
    yield { code, start, end, ...(size === 2 && { number: view.getInt16(start, true) }) };
    if (code === 0 && isWord(bytes, { start, end }, 'EOF')) return;
  }
}
