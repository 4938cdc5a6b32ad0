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

const LINE_FEED = 0x0a;
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
  /** Numbers of the keywords by their text. */
  private readonly numbers = new Map<string, number>();
  /**
   * Open-addressed table from the first four bytes of a keyword to its number; 0 is free. It only makes looking up
   * fast: what it does not know is asked of `numbers`.
   */
  private readonly table = new Uint16Array(2048);
  private readonly keywordAt: number[] = [0];
  private slotsUsed = 0;

  private readonly bytes: Uint8Array;

  constructor(content: Uint8Array) {
    // Always the same kind of array, whatever the caller holds: the loops below stay fast.
    const bytes = new Uint8Array(content.buffer, content.byteOffset, content.byteLength);
    this.bytes = bytes;
    this.capacity = Math.max(64, Math.floor(bytes.length / 40));
    this.ids = new Uint32Array(this.capacity);
    this.starts = new Uint32Array(this.capacity);
    this.contents = new Uint32Array(this.capacity);
    this.ends = new Uint32Array(this.capacity);
    this.types = new Uint16Array(this.capacity);
  }

  /** Reads instances from `from` until something else comes; returns the offset of that. */
  indexSection(from: number): number {
    const { bytes } = this;
    const length = bytes.length;
    let at = from;
    for (;;) {
      // 1. `#number=`, mostly without blanks.
      if (bytes[at] === LINE_FEED) at++;
      if (bytes[at] !== NUMBER_SIGN) {
        at = skipBlank(bytes, at, length);
        if (at >= length || bytes[at] !== NUMBER_SIGN) return at;
      }
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

      // 2. The keyword, or `(`.
      const content = at;
      let type = 0;
      if (bytes[at] !== OPEN) {
        if (WORD[bytes[at]!] !== 1) this.fail(at, `instance #${id} has no entity`, "a keyword or '('");
        type = this.keywordNumber(at);
        at += this.keywords[type]!.length;
      }

      // 3. The closing `;`, past strings and comments.
      for (;;) {
        while (STOP[bytes[at]!] === 0) at++;
        const byte = bytes[at];
        if (byte === SEMICOLON) break;
        if (byte === APOSTROPHE) {
          // Names are mostly left empty.
          if (bytes[at + 1] === APOSTROPHE && bytes[at + 2] !== APOSTROPHE) {
            at += 2;
            continue;
          }
          at = endOfString(bytes, at, length);
          if (at < 0) this.fail(start, `a string in instance #${id} never ends`, 'a closing apostrophe');
          at++;
        } else if (byte === undefined) this.fail(length, `the file ends inside instance #${id}`, "';'");
        else if (bytes[at + 1] === ASTERISK) at = endOfComment(bytes, at, length);
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

  /** Number of the keyword that begins at an offset; new ones get the next number. */
  private keywordNumber(at: number): number {
    const { bytes, table } = this;
    const mask = table.length - 1;
    const prefix = bytes[at]! | (bytes[at + 1]! << 8) | (bytes[at + 2]! << 16) | (bytes[at + 3]! << 24);
    let slot = (Math.imul(prefix, 0x9e3779b1) >>> 16) & mask;
    for (;;) {
      const known = table[slot]!;
      if (known === 0) return this.addKeyword(slot, at);
      if (this.isWordAt(at, this.keywordAt[known]!, this.keywords[known]!.length)) return known;
      slot = (slot + 1) & mask;
    }
  }

  private isWordAt(at: number, known: number, length: number): boolean {
    const { bytes } = this;
    for (let n = 0; n < length; n++) if (bytes[at + n] !== bytes[known + n]) return false;
    return WORD[bytes[at + length]!] !== 1;
  }

  /** Short keywords share their first bytes with what follows them, so one keyword may come here more than once. */
  private addKeyword(slot: number, at: number): number {
    let text = '';
    for (let end = at; WORD[this.bytes[end]!] === 1; end++) text += String.fromCharCode(this.bytes[end]!);
    let number = this.numbers.get(text);
    if (number === undefined) {
      number = this.keywords.length;
      if (number >= MOST_KEYWORDS)
        this.fail(at, `more than ${MOST_KEYWORDS} different entity types`, 'a known schema');
      this.numbers.set(text, number);
      this.keywords.push(text.toUpperCase());
      this.keywordAt.push(at);
    }
    if (this.slotsUsed++ < this.table.length / 2) this.table[slot] = number;
    return number;
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

function enlarge<Numbers extends Uint32Array | Uint16Array>(from: Numbers, into: Numbers): Numbers {
  into.set(from);
  return into;
}
