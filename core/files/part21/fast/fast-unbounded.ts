import { instanceWith, MOST_BYTES, PADDING } from './memory';

/** So many are enough to say what is the matter. */
const MOST_FOUND = 10_000;

/** What stands before the first byte can be read, too. */
const BASE = 1024;

/**
 * The places that look like numbers which are not finite or of three digits in their exponents (`1.E308`, `NAN`): offsets of the letters. They
 * may stand in strings. Costs about as much as copying the bytes.
 */
export function unboundedPlaces(bytes: Uint8Array): number[] {
  if (bytes.length > MOST_BYTES) return unboundedPlacesSlowly(bytes);
  const { memory, run } = instanceWith(BASE + bytes.length + PADDING);
  const heap = new Uint8Array(memory.buffer);
  heap.fill(0, 0, BASE);
  heap.set(bytes, BASE);
  heap.fill(0, BASE + bytes.length, BASE + bytes.length + PADDING);
  const end = BASE + bytes.length;
  const found: number[] = [];
  for (let at = run.nextUnbounded(BASE, end); at < end; at = run.nextUnbounded(at + 1, end)) {
    found.push(at - BASE);
    if (found.length === MOST_FOUND) break;
  }
  return found;
}

const UNBOUNDED = /(?<=[\d./])e\+?[1-9]\d\d|(?<=[()*+,-])(?:nan|in[fd])/gi;
const PIECE = 64 * 1024 * 1024;
/** Longer than anything that is looked for, with what stands before it. */
const OVERLAP = 16;

/** The same for what is too large to be copied. */
export function unboundedPlacesSlowly(bytes: Uint8Array, piece = PIECE): number[] {
  const found: number[] = [];
  const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let from = 0; from < bytes.length; from += piece) {
    const start = Math.max(0, from - OVERLAP);
    const text = buffer.toString('latin1', start, Math.min(bytes.length, from + piece + OVERLAP));
    for (const { index } of text.matchAll(UNBOUNDED)) {
      const at = start + index;
      if (at < from || at >= from + piece) continue;
      found.push(at);
      if (found.length === MOST_FOUND) return found;
    }
  }
  return found;
}
