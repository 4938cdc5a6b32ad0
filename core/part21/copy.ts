import { Part21Error } from './errors';
import type { Part21File } from './file';
import { endOfComment, endOfString, type Reference } from './parameters';
import type { Part21Builder } from './write';

const [LINE_FEED, APOSTROPHE, HASH, ASTERISK, SLASH, EQUALS] = [0x0a, 0x27, 0x23, 0x2a, 0x2f, 0x3d];

/**
 * Copies instances into a file that is being built: the text stays as it is written, to the last digit, only the
 * numbers of the instances change. The copies stand in the order of the original.
 * @param ids closed under references, but for those in `copies`
 * @param copies what references become; the new numbers are added to it
 * @throws Part21Error when an instance refers to one that is neither copied nor given
 */
export function copyInstances(
  file: Part21File,
  ids: Iterable<number>,
  builder: Part21Builder,
  copies: Map<number, Reference> = new Map(),
): Map<number, Reference> {
  const { index } = file;
  const positions: number[] = [];
  let bytes = 0;
  for (const id of ids) {
    const position = copies.has(id) ? undefined : file.position(id);
    if (position === undefined) continue;
    positions.push(position);
    bytes += index.ends[position]! - index.contents[position]! + 16;
  }
  const ordered = Uint32Array.from(positions).sort();
  for (const position of ordered) copies.set(index.ids[position]!, builder.reserve());
  const out = new Copy(file, copies, Math.ceil(bytes * 1.1));
  for (const position of ordered) out.add(position);
  builder.addBytes(out.finish());
  return copies;
}

/** Instances as bytes, renumbered as they are copied: byte by byte, since strings cost more than the copying. */
class Copy {
  private bytes: Uint8Array;
  private at = 0;

  constructor(
    private readonly file: Part21File,
    private readonly copies: ReadonlyMap<number, Reference>,
    capacity: number,
  ) {
    this.bytes = new Uint8Array(capacity);
  }

  add(position: number): void {
    const { bytes: source, index } = this.file;
    const [content, end] = [index.contents[position]!, index.ends[position]!];
    // A number of the copy may be longer than the one it stands for, by nine digits at most.
    if (this.at + (end - content) * 5 + 32 > this.bytes.length) this.grow((end - content) * 5 + 32);
    const { bytes } = this;
    this.writeNumber(this.copies.get(index.ids[position]!)!.id);
    bytes[this.at++] = EQUALS;
    for (let from = content; from < end; from++) {
      const byte = source[from]!;
      if (byte === APOSTROPHE || (byte === SLASH && source[from + 1] === ASTERISK)) {
        const after =
          byte === APOSTROPHE ? endOfString(source, from, end) + 1 : endOfComment(source, from, end);
        for (; from < after; from++) bytes[this.at++] = source[from]!;
        from--;
      } else if (byte === HASH) {
        const start = from;
        let referred = 0;
        for (from++; from < end; from++) {
          const digit = source[from]! - 0x30;
          if (digit < 0 || digit > 9) break;
          referred = referred * 10 + digit;
        }
        from--;
        const copy = this.copies.get(referred);
        if (!copy)
          throw new Part21Error(
            source,
            start,
            `it refers to #${referred}, which is not there`,
            'an instance',
          );
        this.writeNumber(copy.id);
      } else bytes[this.at++] = byte;
    }
    bytes[this.at++] = LINE_FEED;
  }

  finish(): Uint8Array {
    return this.bytes.subarray(0, this.at);
  }

  private writeNumber(id: number): void {
    const { bytes } = this;
    bytes[this.at++] = HASH;
    let digits = 1;
    for (let left = id; left >= 10; left = Math.floor(left / 10)) digits++;
    let left = id;
    for (let place = this.at + digits - 1; place >= this.at; place--) {
      bytes[place] = 0x30 + (left % 10);
      left = Math.floor(left / 10);
    }
    this.at += digits;
  }

  private grow(by: number): void {
    const larger = new Uint8Array(this.bytes.length * 2 + by);
    larger.set(this.bytes);
    this.bytes = larger;
  }
}
