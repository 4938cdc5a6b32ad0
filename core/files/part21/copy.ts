import { Part21Error } from './errors';
import type { Part21File } from './file';
import { Reference } from './parameters';
import { NOWHERE, ReferenceTable } from './references';
import type { Part21Builder } from './write';

const [LINE_FEED, BLANK, HASH, EQUALS] = [0x0a, 0x20, 0x23, 0x3d];
/** The longest number of an instance, with its `#`. */
const LONGEST = 11;

/**
 * What instances of a file became in another one: their numbers there. They are kept in arrays as long as the file's
 * index, which all copies out of a file share, one after the other: making the next ends this one.
 */
export class Copies {
  /** Number by position; it counts where `marks` holds this one's own mark. */
  readonly numbers: Uint32Array;
  readonly marks: Uint32Array;
  readonly mark: number;

  private static readonly shared = new WeakMap<
    Part21File,
    { numbers: Uint32Array; marks: Uint32Array; mark: number }
  >();
  private readonly own: { mark: number };

  /**
   * @param numbering whether instances get new numbers, or keep those that they have: their text is then taken over
   * as it is, by a builder that numbers its own instances after the file's (`builderAfter`)
   */
  constructor(
    private readonly file: Part21File,
    readonly numbering: 'new' | 'kept' = 'new',
  ) {
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

  /** A number for what is written in the place of an instance. */
  reserve(id: number, builder: Part21Builder): Reference {
    const reference = this.numbering === 'kept' ? new Reference(id) : builder.reserve();
    const position = this.file.position(id);
    this.check();
    if (position !== undefined) {
      this.marks[position] = this.mark;
      this.numbers[position] = reference.id;
    }
    return reference;
  }

  /** Says what an instance becomes: one that is there. */
  lead(position: number, number: number): void {
    this.check();
    this.marks[position] = this.mark;
    this.numbers[position] = number;
  }

  /** Numbers those that have no copy yet: with new numbers one after the other, or those they have. @returns them */
  number(positions: Uint32Array, builder: Part21Builder): Uint32Array {
    this.check();
    const { marks, numbers, mark } = this;
    const { ids } = this.file.index;
    let wanted = positions;
    for (let n = 0; n < positions.length; n++) {
      if (marks[positions[n]!] !== mark) continue;
      wanted = positions.filter((position) => marks[position] !== mark);
      break;
    }
    const isNew = this.numbering === 'new';
    const first = isNew ? builder.reserveMany(wanted.length) : 0;
    for (let n = 0; n < wanted.length; n++) {
      const position = wanted[n]!;
      marks[position] = mark;
      numbers[position] = isNew ? first + n : ids[position]!;
    }
    return wanted;
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
 * numbers of the instances may change. The copies stand in the order of the original.
 * @param positions in the file's index, in order; closed under references, but for those in `copies`
 * @param copies what references become; the numbers are added to it
 * @throws Part21Error when an instance refers to one that is neither copied nor given
 */
export function copyInstances(
  file: Part21File,
  positions: Uint32Array,
  builder: Part21Builder,
  copies: Copies = new Copies(file),
): Copies {
  const wanted = copies.number(positions, builder);
  const isNew = copies.numbering === 'new';
  // Text that keeps its numbers goes wrong only where the file itself is: most files are looked at once.
  if (isNew || !ReferenceTable.of(file).isWhole) checkReferences(file, wanted, copies);
  if (isNew) builder.addBytes(renumbered(file, wanted, copies));
  else for (const stretch of stretches(file, wanted)) builder.addBytes(stretch);
  return copies;
}

/** The text of instances that have their new numbers already. @throws Part21Error as `copyInstances` */
export function copiedText(file: Part21File, positions: Uint32Array, copies: Copies): Uint8Array {
  checkReferences(file, positions, copies);
  return renumbered(file, positions, copies);
}

function checkReferences(file: Part21File, positions: Uint32Array, { marks, mark }: Copies): void {
  const { first, targets, starts, lengths } = ReferenceTable.of(file);
  for (let n = 0; n < positions.length; n++) {
    const position = positions[n]!;
    for (let reference = first[position]!, last = first[position + 1]!; reference < last; reference++) {
      const target = targets[reference]!;
      if (target !== NOWHERE && marks[target] === mark) continue;
      const start = starts[reference]!;
      const number = Buffer.from(file.bytes.subarray(start, start + lengths[reference]!));
      throw new Part21Error(
        file.bytes,
        start,
        `it refers to ${number.toString('latin1')}, which is not there`,
        'an instance',
      );
    }
  }
}

/** Instances as they are written, in stretches of those that follow each other with nothing but blanks between. */
function stretches({ bytes, index }: Part21File, positions: Uint32Array): Uint8Array[] {
  const { starts, ends } = index;
  const found: Uint8Array[] = [];
  for (let n = 0; n < positions.length; ) {
    const from = starts[positions[n]!]!;
    let end = ends[positions[n]!]!;
    for (n++; n < positions.length && positions[n] === positions[n - 1]! + 1; n++) {
      const next = starts[positions[n]!]!;
      let at = end;
      while (at < next && bytes[at]! <= BLANK) at++;
      if (at < next) break;
      end = ends[positions[n]!]!;
    }
    if (bytes[end] === LINE_FEED) end++;
    found.push(bytes.subarray(from, end));
  }
  return found;
}

/** Instances with new numbers. Plain loops over bytes: slices and strings would cost more than the copying. */
function renumbered(file: Part21File, positions: Uint32Array, { numbers }: Copies): Uint8Array {
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
      for (const start = starts[reference]!; from < start; from++) out[at++] = bytes[from]!;
      at = writeNumber(out, at, numbers[targets[reference]!]!);
      from += lengths[reference]!;
    }
    for (const end = ends[position]!; from < end; from++) out[at++] = bytes[from]!;
    out[at++] = LINE_FEED;
  }
  return out.subarray(0, at);
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
