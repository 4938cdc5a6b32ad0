import type { Part21File } from './file';

/**
 * The file without some of its instances, each with the line end behind it. Every other byte stays as it was.
 * @param leaving instances that nothing that stays refers to
 */
export function withoutInstances(file: Part21File, leaving: { has(id: number): boolean }): Uint8Array {
  const text = Buffer.from(file.bytes.buffer, file.bytes.byteOffset, file.bytes.byteLength);
  const { ids, starts, ends, count } = file.index;
  const pieces: Buffer[] = [];
  let at = 0;
  for (let n = 0; n < count; n++) {
    if (!leaving.has(ids[n]!)) continue;
    pieces.push(text.subarray(at, starts[n]!));
    at = afterLineEnd(text, ends[n]!);
  }
  pieces.push(text.subarray(at));
  return Buffer.concat(pieces);
}

/** Offset behind the line end that stands at `from`, if one does. */
export function afterLineEnd(bytes: Uint8Array, from: number): number {
  const at = bytes[from] === 0x0d ? from + 1 : from;
  return bytes[at] === 0x0a ? at + 1 : at;
}
