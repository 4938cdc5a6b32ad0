/** A range of bytes and what stands there instead; nothing when `content` is left out. */
export interface Edit {
  start: number;
  end: number;
  content?: Uint8Array;
}

/** The bytes with some ranges replaced; every other byte stays as it was. @param edits in order, not overlapping */
export function splice(bytes: Uint8Array, edits: readonly Edit[]): Uint8Array {
  const pieces: Uint8Array[] = [];
  let at = 0;
  for (const { start, end, content } of edits) {
    pieces.push(bytes.subarray(at, start));
    if (content) pieces.push(content);
    at = end;
  }
  pieces.push(bytes.subarray(at));
  return Buffer.concat(pieces);
}
