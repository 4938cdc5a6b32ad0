import type { Part21File } from './file';

/**
 * The last position of the instances that stand together from one on: with nothing but blanks between them, so that they can be copied or
 * taken out as one range of bytes.
 * @param isIn of positions that belong to the run
 */
export function endOfRun(
  { bytes, index: { starts, ends, count } }: Part21File,
  first: number,
  isIn: (position: number) => boolean,
): number {
  let last = first;
  while (last + 1 < count && isIn(last + 1)) {
    let at = ends[last]!;
    const next = starts[last + 1]!;
    while (at < next && bytes[at]! <= 0x20) at++;
    if (at < next) break;
    last++;
  }
  return last;
}
