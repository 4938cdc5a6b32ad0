import type { Part21File } from './file';
import { endOfComment, endOfString, skipBlank } from './parameters';
import { type Edit, splice } from './splice';
import { inStandardOrder } from './write';

/** Whether the partial records of a complex instance stand in alphabetical order (ISO 10303-21, 11.2.5.3). */
export function isInOrder(file: Part21File, id: number): boolean {
  const keywords = file.instance(id)?.records.map(({ keyword }) => keyword) ?? [];
  return keywords.every((keyword, n) => n === 0 || keywords[n - 1]! <= keyword);
}

/** The file with the records of some complex instances put in order. The text of each record, and all else, stays. */
export function withRecordsInOrder(file: Part21File, ids: readonly number[]): Uint8Array {
  const edits = ids.flatMap((id): Edit[] => {
    const ranges = recordRanges(file, id);
    const { records } = file.instance(id)!;
    const order = inStandardOrder(ranges.map((range, n) => ({ range, keyword: records[n]!.keyword })));
    return ranges.map((range, n) => ({
      ...range,
      content: file.bytes.subarray(order[n]!.range.start, order[n]!.range.end),
    }));
  });
  return splice(
    file.bytes,
    edits.sort((a, b) => a.start - b.start),
  );
}

/** Where each record of a complex instance stands, from its keyword to after its closing parenthesis. */
function recordRanges(file: Part21File, id: number): { start: number; end: number }[] {
  const { bytes } = file;
  const { content, end } = file.contentOf(id)!;
  const ranges: { start: number; end: number }[] = [];
  let start = skipBlank(bytes, content + 1, end);
  let depth = 0;
  for (let at = start; at < end; at++) {
    const byte = bytes[at]!;
    if (byte === 0x27) at = endOfString(bytes, at, end);
    else if (byte === 0x2f && bytes[at + 1] === 0x2a) at = endOfComment(bytes, at, end) - 1;
    else if (byte === 0x28) depth++;
    else if (byte === 0x29 && depth-- === 0) break;
    else if (byte === 0x29 && depth === 0) {
      ranges.push({ start, end: at + 1 });
      start = skipBlank(bytes, at + 1, end);
      at = start - 1;
    }
  }
  return ranges;
}
