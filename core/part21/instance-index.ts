import { Part21Error } from './errors';
import { endOfComment, endOfString, skipBlank } from './parameters';

/**
 * Where every instance of the data sections stands, in file order. Made in one pass over the bytes without
 * looking inside the parameters; cost grows linearly with the bytes, memory with the instances (18 bytes each).
 */
export interface InstanceIndex {
  readonly count: number;
  /** The number after `#`. */
  readonly ids: Uint32Array;
  /** Offset of the `#`. */
  readonly starts: Uint32Array;
  /** Offset of the keyword, or of the `(` of a complex instance. */
  readonly contents: Uint32Array;
  /** Offset just after the closing `;`. */
  readonly ends: Uint32Array;
  /** Index into `keywords`; 0 stands for a complex instance. */
  readonly types: Uint16Array;
  /** The keywords met, in the order of first use; entry 0 is ''. */
  readonly keywords: readonly string[];
}

const NUMBER_SIGN = 0x23;
const APOSTROPHE = 0x27;
const OPEN = 0x28;
const ASTERISK = 0x2a;
const SLASH = 0x2f;
const SEMICOLON = 0x3b;
const EQUALS = 0x3d;

/** 1 for the bytes that a keyword is made of (6.2: letters, digits, low line; a leading `!` is user-defined). */
const WORD = new Uint8Array(256);
for (const character of 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789_-!')
  WORD[character.charCodeAt(0)] = 1;

/** 1 for the bytes at which the search for the closing `;` has to look twice. */
const STOP = new Uint8Array(256);
STOP[SEMICOLON] = 1;
STOP[APOSTROPHE] = 1;
STOP[SLASH] = 1;

/** More entity types than any schema has; a file beyond it is an attack on memory. */
const MOST_KEYWORDS = 60_000;

/**
 * Indexes one data section.
 * @param from offset just after `DATA;`
 * @returns the index, and the offset of the keyword that ends the section (`ENDSEC`)
 * @throws Part21Error where the text stops being a list of instances
 */
export class InstanceIndexer {
  private capacity: number;
  private count = 0;
  private ids: Uint32Array;
  private starts: Uint32Array;
  private contents: Uint32Array;
  private ends: Uint32Array;
  private types: Uint16Array;
  private readonly keywords: string[] = [''];
  /** Open-addressed table from a keyword's hash to its number; 0 is free. */
  private table = new Uint16Array(4096);
  private hashes = new Int32Array(1024);
  private keywordAt = new Uint32Array(1024);

  constructor(private readonly bytes: Uint8Array) {
    this.capacity = Math.max(64, Math.floor(bytes.length / 40));
    this.ids = new Uint32Array(this.capacity);
    this.starts = new Uint32Array(this.capacity);
    this.contents = new Uint32Array(this.capacity);
    this.ends = new Uint32Array(this.capacity);
    this.types = new Uint16Array(this.capacity);
  }

  /** Reads instances from `from` until something else comes; returns the offset of that. */
  indexSection(from: number): number {
    const bytes = this.bytes;
    const length = bytes.length;
    let at = from;
    for (;;) {
      at = skipBlank(bytes, at, length);
      if (at >= length || bytes[at] !== NUMBER_SIGN) return at;
      const start = at++;

      let id = 0;
      let digit = bytes[at]! - 0x30;
      const firstDigit = at;
      while (digit >= 0 && digit <= 9) {
        id = id * 10 + digit;
        digit = bytes[++at]! - 0x30;
      }
      if (at === firstDigit || id > 0xffffffff)
        this.fail(start, 'an instance without a usable number', "'#' and digits");

      if (bytes[at] !== EQUALS) {
        at = skipBlank(bytes, at, length);
        if (bytes[at] !== EQUALS) this.fail(at, `instance #${id} is not defined here`, "'='");
      }
      at++;
      if (bytes[at]! <= 0x20 || bytes[at] === SLASH) at = skipBlank(bytes, at, length);

      const content = at;
      let type = 0;
      if (bytes[at] !== OPEN) {
        let hash = 0;
        let byte = bytes[at]!;
        while (WORD[byte] === 1) {
          hash = (Math.imul(hash, 31) + byte) | 0;
          byte = bytes[++at]!;
        }
        if (at === content) this.fail(at, `instance #${id} has no entity`, "a keyword or '('");
        type = this.keywordNumber(content, at, hash);
      }

      for (;;) {
        while (at < length && STOP[bytes[at]!] === 0) at++;
        if (at >= length) this.fail(length, `the file ends inside instance #${id}`, "';'");
        const byte = bytes[at];
        if (byte === SEMICOLON) break;
        if (byte === APOSTROPHE) {
          // Most strings are empty or short, and most have no doubled apostrophe in them.
          at = endOfString(bytes, at, length);
          if (at < 0) this.fail(start, `a string in instance #${id} never ends`, 'a closing apostrophe');
          at++;
        } else if (bytes[at + 1] === ASTERISK) at = endOfComment(bytes, at, length);
        else at++;
      }
      at++;

      if (this.count === this.capacity) this.grow();
      const n = this.count++;
      this.ids[n] = id;
      this.starts[n] = start;
      this.contents[n] = content;
      this.ends[n] = at;
      this.types[n] = type;
    }
  }

  finish(): InstanceIndex {
    const { count } = this;
    return {
      count,
      ids: this.ids.subarray(0, count),
      starts: this.starts.subarray(0, count),
      contents: this.contents.subarray(0, count),
      ends: this.ends.subarray(0, count),
      types: this.types.subarray(0, count),
      keywords: this.keywords,
    };
  }

  private keywordNumber(from: number, to: number, hash: number): number {
    const mask = this.table.length - 1;
    let slot = (hash ^ (hash >>> 15)) & mask;
    for (;;) {
      const known = this.table[slot]!;
      if (known === 0) return this.addKeyword(slot, from, to, hash);
      if (this.hashes[known] === hash && this.sameWord(this.keywordAt[known]!, from, to)) return known;
      slot = (slot + 1) & mask;
    }
  }

  private sameWord(known: number, from: number, to: number): boolean {
    const { bytes } = this;
    for (let at = from, other = known; at < to; at++, other++) if (bytes[at] !== bytes[other]) return false;
    return WORD[bytes[known + to - from]!] === 0;
  }

  private addKeyword(slot: number, from: number, to: number, hash: number): number {
    const number = this.keywords.length;
    if (number >= MOST_KEYWORDS)
      this.fail(from, `more than ${MOST_KEYWORDS} different entity types`, 'a known schema');
    if (number >= this.hashes.length) {
      this.hashes = enlarge(this.hashes, new Int32Array(number * 2));
      this.keywordAt = enlarge(this.keywordAt, new Uint32Array(number * 2));
    }
    let text = '';
    for (let at = from; at < to; at++) text += String.fromCharCode(this.bytes[at]!);
    this.keywords.push(text.toUpperCase());
    this.hashes[number] = hash;
    this.keywordAt[number] = from;
    this.table[slot] = number;
    if (number * 2 > this.table.length) this.rehash();
    return number;
  }

  private rehash(): void {
    this.table = new Uint16Array(this.table.length * 4);
    const mask = this.table.length - 1;
    for (let number = 1; number < this.keywords.length; number++) {
      const hash = this.hashes[number]!;
      let slot = (hash ^ (hash >>> 15)) & mask;
      while (this.table[slot] !== 0) slot = (slot + 1) & mask;
      this.table[slot] = number;
    }
  }

  private grow(): void {
    this.capacity *= 2;
    this.ids = enlarge(this.ids, new Uint32Array(this.capacity));
    this.starts = enlarge(this.starts, new Uint32Array(this.capacity));
    this.contents = enlarge(this.contents, new Uint32Array(this.capacity));
    this.ends = enlarge(this.ends, new Uint32Array(this.capacity));
    this.types = enlarge(this.types, new Uint16Array(this.capacity));
  }

  private fail(at: number, problem: string, expected: string): never {
    throw new Part21Error(this.bytes, at, problem, expected);
  }
}

function enlarge<Numbers extends Int32Array | Uint32Array | Uint16Array>(
  from: Numbers,
  into: Numbers,
): Numbers {
  into.set(from);
  return into;
}
