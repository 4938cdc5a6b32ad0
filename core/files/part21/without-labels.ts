import { eachString } from './each-string';
import type { Part21File } from './file';
import { type Edit, splice } from './splice';

/**
 * The file with every string of some instances emptied. Names of points, edges and faces tell of the system that wrote them, and now and
 * then of the part. Every other byte stays.
 * @param positions in the file's index, in order
 * @param kept strings that stay, as they are written
 */
export function withoutLabels(
  { bytes, index }: Part21File,
  positions: Iterable<number>,
  kept: ReadonlySet<string> = new Set(),
): Uint8Array {
  const edits: Edit[] = [];
  for (const position of positions) {
    eachString(bytes, index.contents[position]!, index.ends[position]!, (start, end) => {
      const isKept = kept.size > 0 && kept.has(Buffer.from(bytes.subarray(start, end)).toString('latin1'));
      if (end > start && !isKept) edits.push({ start, end });
    });
  }
  return splice(
    bytes,
    edits.sort((a, b) => a.start - b.start),
  );
}
