import { eachReference } from './each-reference';
import { type FoundReferences, findReferencesFast } from './fast/fast-references';
import type { Part21File } from './file';

/** A target that is not in the file. */
export const NOWHERE = -1;
const NONE = new Uint32Array(0);
/** Instances are looked through, rather than sorted, when they lie in a stretch of at most so many times their number. */
const MOST_SPREAD = 4;

/**
 * Every reference of a file, found in one pass and kept as plain arrays: those of the instance at a position of the
 * index are numbered from `first[position]` to before `first[position + 1]`.
 */
export class ReferenceTable implements FoundReferences {
  /** One more than there are instances. */
  readonly first: Uint32Array;
  /** Position of the instance that is referred to, or NOWHERE. */
  readonly targets: Int32Array;
  /** Offset of the `#`. */
  readonly starts: Uint32Array;
  /** Bytes from the `#` to the last digit. */
  readonly lengths: Uint8Array;

  private static readonly known = new WeakMap<Part21File, ReferenceTable>();

  /** The table of a file, made when it is asked for first. */
  static of(file: Part21File): ReferenceTable {
    let table = ReferenceTable.known.get(file);
    if (!table) {
      table = new ReferenceTable(findReferencesFast(file) ?? findReferences(file));
      ReferenceTable.known.set(file, table);
    }
    return table;
  }

  /** Whether every reference leads to an instance. */
  readonly isWhole: boolean;

  private constructor({ first, targets, starts, lengths }: FoundReferences) {
    this.first = first;
    this.targets = targets;
    this.starts = starts;
    this.lengths = lengths;
    this.isWhole = !targets.includes(NOWHERE);
  }

  /** For walks over the instances: the number of the walk that came by last. */
  private visits: Uint32Array | undefined;
  private walk = 0;
  /** Positions that a walk came to; no walk is longer than the file. */
  private found: Uint32Array | undefined;

  /**
   * Positions of everything that some instances need: themselves, what they refer to, what that refers to, and so on,
   * in the order of the file. Cost grows with the references found.
   * @param isKnown of positions that are neither followed nor returned
   * @param base positions in order, closed by themselves, that belong to the result and are not followed again
   */
  closure(
    starts: Iterable<number>,
    isKnown?: (position: number) => boolean,
    base: Uint32Array = NONE,
  ): Uint32Array {
    const count = this.first.length - 1;
    this.visits ??= new Uint32Array(count);
    this.found ??= new Uint32Array(count);
    const { visits, found, first, targets } = this;
    const walk = ++this.walk;
    for (let n = 0; n < base.length; n++) visits[base[n]!] = walk;
    let length = 0;
    let [lowest, highest] = [count, -1];
    for (const position of starts) {
      if (visits[position] === walk || isKnown?.(position)) continue;
      visits[position] = walk;
      found[length++] = position;
    }
    for (let n = 0; n < length; n++) {
      const position = found[n]!;
      if (position < lowest) lowest = position;
      if (position > highest) highest = position;
      for (let at = first[position]!, end = first[position + 1]!; at < end; at++) {
        const target = targets[at]!;
        if (target === NOWHERE || visits[target] === walk || isKnown?.(target)) continue;
        visits[target] = walk;
        found[length++] = target;
      }
    }
    const all = new Uint32Array(base.length + length);
    if (highest - lowest > MOST_SPREAD * length) {
      all.set(base);
      all.set(found.subarray(0, length), base.length);
      return all.sort();
    }
    // What belongs together mostly stands together: looking through that stretch is faster than sorting.
    let n = 0;
    for (let at = 0; at < base.length; at++) if (base[at]! < lowest) all[n++] = base[at]!;
    for (let position = lowest; position <= highest; position++)
      if (visits[position] === walk) all[n++] = position;
    for (let at = 0; at < base.length; at++) if (base[at]! > highest) all[n++] = base[at]!;
    return all;
  }
}

/** Finds every reference of a file, of any size and however its numbers lie. */
export function findReferences(file: Part21File): FoundReferences {
  const { bytes, index } = file;
  const { contents, ends, count } = index;
  const first = new Uint32Array(count + 1);
  const [targets, starts, lengths]: [number[], number[], number[]] = [[], [], []];
  for (let position = 0; position < count; position++) {
    first[position] = targets.length;
    eachReference(bytes, contents[position]!, ends[position]!, (id, start, end) => {
      targets.push(file.position(id) ?? NOWHERE);
      starts.push(start);
      lengths.push(end - start);
    });
  }
  first[count] = targets.length;
  return {
    first,
    targets: Int32Array.from(targets),
    starts: Uint32Array.from(starts),
    lengths: Uint8Array.from(lengths),
  };
}
