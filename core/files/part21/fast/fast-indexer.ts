import type { InstanceIndex } from '../instance-index';
import { align, DONE, FULL, instanceWith, MOST_BYTES, PADDING } from './memory';

const TABLE_BYTES = 2048 * 2;
const WORDS_BYTES = 1024 * 8;

/** Small files may have large numbers; in fours. */
const LEAST_LIMIT = 16_384;

/**
 * Indexes one data section with WebAssembly, several times faster than `InstanceIndexer` and with the same result.
 * @param from offset just after `DATA;`
 * @returns the index and the offset at which it ended; undefined when the section is not plain, and then
 * `InstanceIndexer` finds out what is the matter
 * @param check whether to look for references to instances that are not there: `missing` says of how many; numbers too large
 * to be looked at count as one
 */
export function indexPlainSection(
  bytes: Uint8Array,
  from: number,
  check = false,
): { index: InstanceIndex; at: number; missing?: number } | undefined {
  if (bytes.length > MOST_BYTES) return undefined;
  for (let capacity = Math.max(64, Math.ceil((bytes.length - from) / 36)); ; capacity *= 3) {
    // 1. Room for everything, and the input.
    const table = 1024;
    const words = table + TABLE_BYTES;
    const base = words + WORDS_BYTES;
    const ids = align(base + bytes.length + PADDING);
    const [starts, contents, ends, types] = [1, 2, 3, 4].map((n) => ids + n * capacity * 4) as [
      number,
      number,
      number,
      number,
    ];
    // A bit for each number, as many as there are bytes: files whose numbers go further are looked through by others.
    const limit = check ? align(Math.max(LEAST_LIMIT, bytes.length >> 2)) * 4 : 0;
    const marks = align(types + capacity * 2 + PADDING);
    const { memory, run } = instanceWith(marks + (limit >> 3) + PADDING);
    const heap = new Uint8Array(memory.buffer);
    heap.fill(0, marks, marks + (limit >> 3));
    heap.fill(0, table, words);
    heap.set(bytes, base);
    heap.fill(0, base + bytes.length, base + bytes.length + PADDING);

    // 2. The section.
    const outcome = run.indexSection(
      base,
      base + from,
      base + bytes.length,
      ids,
      starts,
      contents,
      ends,
      types,
      capacity,
      table,
      words,
      check ? marks : 0,
      limit,
    );
    if (outcome === FULL) continue;
    if (outcome !== DONE) return undefined;

    // 3. The results, copied out: the memory is used again.
    const count = run.instanceCount();
    const numbers = (at: number) => new Uint32Array(memory.buffer, at, count).slice();
    const keywords = [''];
    const text = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const places = new Uint32Array(memory.buffer, words, (run.keywordCount() + 1) * 2);
    for (let n = 1; n <= run.keywordCount(); n++) {
      const start = places[n * 2]!;
      const keyword = text.toString('latin1', start, start + places[n * 2 + 1]!);
      keywords.push(/[a-z]/.test(keyword) ? keyword.toUpperCase() : keyword);
    }
    const index = {
      count,
      ids: numbers(ids),
      starts: numbers(starts),
      contents: numbers(contents),
      ends: numbers(ends),
      types: new Uint16Array(memory.buffer, types, count).slice(),
      keywords,
    };
    const missing = check ? run.countMissing(ids, count, marks, limit) : undefined;
    return { index, at: run.stoppedAt(), missing };
  }
}
