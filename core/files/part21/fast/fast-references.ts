import type { Part21File } from '../file';
import { align, DONE, FULL, instanceWith, MOST_BYTES, PADDING } from './memory';

/** The references of a file as plain arrays; see ReferenceTable. */
export interface FoundReferences {
  first: Uint32Array;
  targets: Int32Array;
  starts: Uint32Array;
  lengths: Uint8Array;
}

/**
 * Finds every reference of a file with WebAssembly, with the same result as `findReferences`.
 * @returns undefined when the file is too large, or its numbers too far apart
 */
export function findReferencesFast(file: Part21File): FoundReferences | undefined {
  const { bytes, index, positionTable } = file;
  const { contents, ends, count } = index;
  if (bytes.length > MOST_BYTES || !(positionTable instanceof Int32Array)) return undefined;
  for (let capacity = Math.max(64, Math.ceil(bytes.length / 10)); ; capacity *= 2) {
    let free = 1024;
    const room = (size: number) => {
      const address = free;
      free = align(free + size + PADDING);
      return address;
    };
    const base = room(bytes.length);
    const [from, to] = [room(count * 4), room(count * 4)];
    const positions = room(positionTable.length * 4);
    const [first, targets, starts] = [room((count + 1) * 4), room(capacity * 4), room(capacity * 4)];
    const lengths = room(capacity);
    const { memory, run } = instanceWith(free);
    const heap = new Uint8Array(memory.buffer);
    heap.set(bytes, base);
    heap.fill(0, base + bytes.length, base + bytes.length + PADDING);
    new Uint32Array(memory.buffer, from, count).set(contents.subarray(0, count));
    new Uint32Array(memory.buffer, to, count).set(ends.subarray(0, count));
    new Int32Array(memory.buffer, positions, positionTable.length).set(positionTable);

    const outcome = run.findReferences(
      base,
      from,
      to,
      count,
      positions,
      positionTable.length - 1,
      first,
      targets,
      starts,
      lengths,
      capacity,
    );
    if (outcome === FULL) continue;
    if (outcome !== DONE) return undefined;
    const found = run.referenceCount();
    return {
      first: new Uint32Array(memory.buffer, first, count + 1).slice(),
      targets: new Int32Array(memory.buffer, targets, found).slice(),
      starts: new Uint32Array(memory.buffer, starts, found).slice(),
      lengths: new Uint8Array(memory.buffer, lengths, found).slice(),
    };
  }
}
