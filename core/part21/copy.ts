import { Part21Error } from './errors';
import type { Part21File } from './file';
import { Reference } from './parameters';
import { NOWHERE, ReferenceTable } from './references';
import type { Part21Builder } from './write';

const [LINE_FEED, HASH, EQUALS] = [0x0a, 0x23, 0x3d];
/** The longest number of an instance, with its `#`. */
const LONGEST = 11;

/**
 * What instances of a file became in another one: their new numbers. They are kept in arrays as long as the file's
 * index, which all copies out of a file share, one after the other: making the next ends this one.
 */
export class Copies {
  /** New number by position; it counts where `marks` holds this one's own mark. */
  readonly numbers: Uint32Array;
  readonly marks: Uint32Array;
  readonly mark: number;

  private static readonly shared = new WeakMap<
    Part21File,
    { numbers: Uint32Array; marks: Uint32Array; mark: number }
  >();
  private readonly own: { mark: number };

  constructor(private readonly file: Part21File) {
    let shared = Copies.shared.get(file);
    if (!shared) {
      const { count } = file.index;
      shared = { numbers: new Uint32Array(count), marks: new Uint32Array(count), mark: 0 };
      Copies.shared.set(file, shared);
    }
    this.own = shared;
    this.mark = ++shared.mark;
    ({ numbers: this.numbers, marks: this.marks } = shared);
  }

  /** The copy of an instance. */
  get(id: number): Reference | undefined {
    const position = this.positionOf(id);
    return position === undefined ? undefined : new Reference(this.numbers[position]!);
  }

  has(id: number): boolean {
    return this.positionOf(id) !== undefined;
  }

  hasPosition(position: number): boolean {
    return this.marks[position] === this.mark;
  }

  /** Says what stands for an instance. */
  set(id: number, { id: number }: Reference): void {
    const position = this.file.position(id);
    if (position === undefined) return;
    this.check();
    this.marks[position] = this.mark;
    this.numbers[position] = number;
  }

  /** The positions that have no copy yet. */
  missing(positions: Uint32Array): Uint32Array {
    this.check();
    const { marks, mark } = this;
    for (let n = 0; n < positions.length; n++)
      if (marks[positions[n]!] === mark) return positions.filter((position) => marks[position] !== mark);
    return positions;
  }

  /** Numbers instances one after the other. */
  number(positions: Uint32Array, first: number): void {
    this.check();
    const { marks, numbers, mark } = this;
    for (let n = 0; n < positions.length; n++) {
      const position = positions[n]!;
      marks[position] = mark;
      numbers[position] = first + n;
    }
  }

  private positionOf(id: number): number | undefined {
    this.check();
    const position = this.file.position(id);
    return position !== undefined && this.hasPosition(position) ? position : undefined;
  }

  private check(): void {
    if (this.own.mark !== this.mark)
      throw new Error('These copies have ended: others of the file were begun.');
  }
}

/**
 * Copies instances into a file that is being built: the text stays as it is written, to the last digit, only the
 * numbers of the instances change. The copies stand in the order of the original.
 * @param positions in the file's index, in order; closed under references, but for those in `copies`
 * @param copies what references become; the new numbers are added to it
 * @throws Part21Error when an instance refers to one that is neither copied nor given
 */
export function copyInstances(
  file: Part21File,
  positions: Uint32Array,
  builder: Part21Builder,
  copies: Copies = new Copies(file),
): Copies {
  const wanted = copies.missing(positions);
  copies.number(wanted, builder.reserveMany(wanted.length));
  const table = ReferenceTable.of(file);
  const result = renumbered(file, wanted, copies);
  if ('missing' in result) {
    const start = table.starts[result.missing]!;
    const number = Buffer.from(file.bytes.subarray(start, start + table.lengths[result.missing]!));
    throw new Part21Error(
      file.bytes,
      start,
      `it refers to ${number.toString('latin1')}, which is not there`,
      'an instance',
    );
  }
  builder.addBytes(result.text);
  return copies;
}

/**
 * Instances as bytes with new numbers. Plain loops over bytes: slices and strings would cost more than the copying.
 * @returns the reference that leads to nothing that is copied, when there is one
 */
function renumbered(
  file: Part21File,
  positions: Uint32Array,
  { numbers, marks, mark }: Copies,
): { text: Uint8Array } | { missing: number } {
  const { bytes, index } = file;
  const { first, targets, starts, lengths } = ReferenceTable.of(file);
  const { contents, ends } = index;
  let room = 0;
  for (let n = 0; n < positions.length; n++) {
    const position = positions[n]!;
    // Every number may become the longest there is.
    room +=
      ends[position]! - contents[position]! + (first[position + 1]! - first[position]! + 1) * LONGEST + 2;
  }
  const out = Buffer.allocUnsafe(room);
  let at = 0;
  for (let n = 0; n < positions.length; n++) {
    const position = positions[n]!;
    at = writeNumber(out, at, numbers[position]!);
    out[at++] = EQUALS;
    let from = contents[position]!;
    for (let reference = first[position]!, last = first[position + 1]!; reference < last; reference++) {
      const target = targets[reference]!;
      if (target === NOWHERE || marks[target] !== mark) return { missing: reference };
      for (const start = starts[reference]!; from < start; from++) out[at++] = bytes[from]!;
      at = writeNumber(out, at, numbers[target]!);
      from += lengths[reference]!;
    }
    for (const end = ends[position]!; from < end; from++) out[at++] = bytes[from]!;
    out[at++] = LINE_FEED;
  }
  return { text: out.subarray(0, at) };
}

function writeNumber(out: Uint8Array, from: number, number: number): number {
  out[from] = HASH;
  let digits = 1;
  for (let bound = 10; bound <= number; bound *= 10) digits++;
  const end = from + 1 + digits;
  let left = number;
  for (let place = end - 1; place > from; place--) {
    const tenth = (left / 10) | 0;
    out[place] = 0x30 + left - tenth * 10;
    left = tenth;
  }
  return end;
}
