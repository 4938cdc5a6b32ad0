import { unboundedPlaces } from './fast/fast-unbounded';
import type { Part21File } from './file';

/** A number that is not finite, or so large that nothing has it. */
export interface UnboundedNumber {
  /** Position of its instance in the file. */
  position: number;
  /** As it is written: `1.E308`, `-NAN`. */
  written: string;
}

/** Beyond this, squares are no numbers any more; the visible universe has 1e30 mm. */
const LARGEST = 1e100;

const APOSTROPHE = 0x27;
/** No number is written with more characters on one side of its letter. */
const LONGEST = 400;

/**
 * The numbers of a file that are not finite or too large (ISO 10303-21, 6.4.2, has none that are not finite: systems write them all the
 * same). Cost grows with the bytes, at the speed of copying them.
 */
export function unboundedNumbers(file: Part21File): UnboundedNumber[] {
  const found: UnboundedNumber[] = [];
  for (const at of unboundedPlaces(file.bytes)) {
    const position = instanceAt(file, at);
    if (position === undefined || isInString(file.bytes, file.index.contents[position]!, at)) continue;
    const written = numberAround(file.bytes, at);
    if (written !== undefined) found.push({ position, written });
  }
  return found;
}

/** The instance in which a byte stands. */
function instanceAt({ index: { contents, ends, count } }: Part21File, at: number): number | undefined {
  let [low, high] = [0, count];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (contents[middle]! <= at) low = middle + 1;
    else high = middle;
  }
  const position = low - 1;
  return position >= 0 && at < ends[position]! ? position : undefined;
}

function isInString(bytes: Uint8Array, from: number, at: number): boolean {
  let isInside = false;
  for (let n = from; n < at; n++) if (bytes[n] === APOSTROPHE) isInside = !isInside;
  return isInside;
}

/** The parameter around a byte, where it is a number without bounds. */
function numberAround(bytes: Uint8Array, at: number): string | undefined {
  const isPart = (byte: number | undefined) =>
    byte !== undefined && /[\w.+-]/.test(String.fromCharCode(byte));
  let [start, end] = [at, at];
  while (at - start < LONGEST && isPart(bytes[start - 1])) start--;
  while (end - at < LONGEST && isPart(bytes[end])) end++;
  const written = Buffer.from(bytes.subarray(start, end)).toString('latin1');
  if (/^[+-]?(nan|inf|ind|infinity)$/i.test(written)) return written;
  const isNumber = /^[+-]?\d+\.?\d*e\+?\d+$/i.test(written);
  return isNumber && Math.abs(Number(written)) >= LARGEST ? written : undefined;
}
