import { Part21Error } from './errors';
import { decodeString } from './strings';

/** `#123`: another instance of the same file (ISO 10303-21, 6.4.4). */
export class Reference {
  constructor(readonly id: number) {}
}

/** `.NAME.` (6.4.5), without the dots. */
export class Enumeration {
  constructor(readonly name: string) {}
}

/** `"0F3"` (6.4.6), as written between the quotes. */
export class Binary {
  constructor(readonly digits: string) {}
}

/** `KEYWORD(value)`: a value whose type the schema leaves open (a SELECT). */
export class Typed {
  constructor(
    readonly keyword: string,
    readonly value: Parameter,
  ) {}
}

/** A real number, kept apart from integers so that writing gives back what reading found. */
export class Real {
  constructor(readonly value: number) {}
}

/** `*`: the value is derived in a subtype. */
export const DERIVED = Symbol('derived');

/** One parameter. `null` is `$` (omitted), a plain number is an integer, an array is a list. */
export type Parameter =
  | string
  | number
  | null
  | typeof DERIVED
  | Reference
  | Enumeration
  | Binary
  | Real
  | Typed
  | Parameter[];

/** One `KEYWORD(parameters)`; a simple instance has one, a complex instance several. */
export interface EntityRecord {
  keyword: string;
  parameters: Parameter[];
}

/** Told of each string while parsing: the bytes between the apostrophes and the decoded text. */
export type OnString = (start: number, end: number, text: string) => void;

/** Lists inside lists inside lists: no schema comes near this depth, hostile input does. */
const DEEPEST = 200;

/** Reads records and parameters from bytes, by recursive descent from a given offset. */
export class ParameterReader {
  private depth = 0;

  constructor(
    private readonly bytes: Uint8Array,
    public at: number,
    private readonly end: number = bytes.length,
    private readonly onString?: OnString,
  ) {}

  /** The right-hand side of an instance: one record, or several in parentheses. */
  readRecords(): EntityRecord[] {
    this.skipBlank();
    if (this.bytes[this.at] !== 0x28) return [this.readRecord()];
    this.at++;
    const records: EntityRecord[] = [];
    for (;;) {
      this.skipBlank();
      if (this.bytes[this.at] === 0x29) {
        this.at++;
        return records;
      }
      records.push(this.readRecord());
    }
  }

  readRecord(): EntityRecord {
    this.skipBlank();
    const keyword = this.readKeyword();
    this.skipBlank();
    return { keyword, parameters: this.readList() };
  }

  /** A record whose keyword is known already and stands where the reader is. */
  readRecordOf(keyword: string): EntityRecord {
    this.at += keyword.length;
    this.skipBlank();
    return { keyword, parameters: this.readList() };
  }

  skipBlank(): void {
    this.at = skipBlank(this.bytes, this.at, this.end);
  }

  fail(problem: string, expected: string): never {
    throw new Part21Error(this.bytes, this.at, problem, expected);
  }

  private readKeyword(): string {
    const start = this.at;
    let text = '';
    if (this.bytes[this.at] === 0x21) {
      text = '!';
      this.at++;
    }
    for (; this.at < this.end; this.at++) {
      const byte = this.bytes[this.at]!;
      const upper = byte >= 0x61 && byte <= 0x7a ? byte - 0x20 : byte;
      const isWord =
        (upper >= 0x41 && upper <= 0x5a) || (byte >= 0x30 && byte <= 0x39) || byte === 0x5f || byte === 0x2d;
      if (!isWord) break;
      text += String.fromCharCode(upper);
    }
    if (this.at === start) this.fail(this.describe(), 'a keyword');
    return text;
  }

  private readList(): Parameter[] {
    if (this.bytes[this.at] !== 0x28 || this.at >= this.end) this.fail(this.describe(), "'('");
    if (++this.depth > DEEPEST) this.fail(`lists nested more than ${DEEPEST} deep`, 'a flatter list');
    this.at++;
    const list: Parameter[] = [];
    this.skipBlank();
    if (this.bytes[this.at] === 0x29 && this.at < this.end) {
      this.at++;
      this.depth--;
      return list;
    }
    for (;;) {
      list.push(this.readParameter());
      this.skipBlank();
      const byte = this.at < this.end ? this.bytes[this.at] : -1;
      if (byte === 0x2c) this.at++;
      else if (byte === 0x29) {
        this.at++;
        this.depth--;
        return list;
      } else this.fail(this.describe(), "',' or ')'");
    }
  }

  private readParameter(): Parameter {
    this.skipBlank();
    if (this.at >= this.end) this.fail('the instance ends here', 'a parameter');
    const byte = this.bytes[this.at]!;
    switch (byte) {
      case 0x24: // $
        this.at++;
        return null;
      case 0x2a: // *
        this.at++;
        return DERIVED;
      case 0x28: // (
        return this.readList();
      case 0x27: // '
        return this.readString();
      case 0x23: // #
        return this.readReference();
      case 0x2e: // .
        return this.readEnumeration();
      case 0x22: // "
        return this.readBinary();
    }
    if ((byte >= 0x30 && byte <= 0x39) || byte === 0x2b || byte === 0x2d) return this.readNumber();
    if ((byte >= 0x41 && byte <= 0x5a) || (byte >= 0x61 && byte <= 0x7a) || byte === 0x21) {
      const keyword = this.readKeyword();
      this.skipBlank();
      const list = this.readList();
      if (list.length !== 1)
        this.fail(`${keyword} has ${list.length} values`, 'one value in a typed parameter');
      return new Typed(keyword, list[0]!);
    }
    return this.fail(this.describe(), 'a parameter');
  }

  private readString(): string {
    const open = this.at;
    const close = endOfString(this.bytes, open, this.end);
    if (close < 0) this.fail('a string that never ends', 'a closing apostrophe');
    this.at = close + 1;
    const text = decodeString(this.bytes, open + 1, close);
    this.onString?.(open + 1, close, text);
    return text;
  }

  private readReference(): Reference {
    const start = this.at++;
    let id = 0;
    const first = this.at;
    for (; this.at < this.end; this.at++) {
      const digit = this.bytes[this.at]! - 0x30;
      if (digit < 0 || digit > 9) break;
      id = id * 10 + digit;
    }
    if (this.at === first || id > 0xffffffff) {
      this.at = start;
      this.fail('a reference without a usable number', "'#' and digits");
    }
    return new Reference(id);
  }

  private readEnumeration(): Enumeration {
    let name = '';
    let at = this.at + 1;
    for (; at < this.end && this.bytes[at] !== 0x2e; at++) {
      const byte = this.bytes[at]!;
      const isWord =
        (byte >= 0x41 && byte <= 0x5a) ||
        (byte >= 0x61 && byte <= 0x7a) ||
        (byte >= 0x30 && byte <= 0x39) ||
        byte === 0x5f;
      if (!isWord) this.fail('an enumeration with other signs than letters and digits', "'.NAME.'");
      name += String.fromCharCode(byte);
    }
    if (at >= this.end || name === '') this.fail('an enumeration that is not closed', "'.NAME.'");
    this.at = at + 1;
    return new Enumeration(name);
  }

  private readBinary(): Binary {
    let digits = '';
    let at = this.at + 1;
    for (; at < this.end && this.bytes[at] !== 0x22; at++) digits += String.fromCharCode(this.bytes[at]!);
    if (at >= this.end || !/^[0-3][0-9A-Fa-f]*$/.test(digits))
      this.fail('a binary that is not closed or not hex', "'\"', hex digits, '\"'");
    this.at = at + 1;
    return new Binary(digits);
  }

  private readNumber(): number | Real {
    let text = '';
    let real = false;
    for (; this.at < this.end; this.at++) {
      const byte = this.bytes[this.at]!;
      if ((byte >= 0x30 && byte <= 0x39) || byte === 0x2b || byte === 0x2d) text += String.fromCharCode(byte);
      else if (byte === 0x2e || byte === 0x45 || byte === 0x65) {
        real = true;
        text += String.fromCharCode(byte);
      } else break;
    }
    const value = Number(text);
    if (!Number.isFinite(value)) this.fail(`'${text.slice(0, 40)}' is no number`, 'a number');
    return real ? new Real(value) : value;
  }

  private describe(): string {
    if (this.at >= this.end) return 'the text ends here';
    const byte = this.bytes[this.at]!;
    return byte >= 0x21 && byte <= 0x7e ? `found '${String.fromCharCode(byte)}'` : `found byte ${byte}`;
  }
}

/** Offset of the apostrophe that closes the string opened at `open`, or -1. A doubled apostrophe does not close. */
export function endOfString(bytes: Uint8Array, open: number, end: number): number {
  for (let at = open + 1; at < end; at++) {
    if (bytes[at] !== 0x27) continue;
    if (bytes[at + 1] === 0x27 && at + 1 < end) at++;
    else return at;
  }
  return -1;
}

/** Skips white space and comments; a comment that never ends skips to the end. */
export function skipBlank(bytes: Uint8Array, from: number, end: number): number {
  let at = from;
  while (at < end) {
    const byte = bytes[at]!;
    if (byte <= 0x20) at++;
    else if (byte === 0x2f && bytes[at + 1] === 0x2a) at = endOfComment(bytes, at, end);
    else if (byte === 0x5c && (bytes[at + 1] === 0x4e || bytes[at + 1] === 0x46) && bytes[at + 2] === 0x5c)
      at += 3; // \N\ and \F\ (6.3)
    else break;
  }
  return at;
}

/** Offset just after the comment opened at `open`, or `end` when it is never closed. */
export function endOfComment(bytes: Uint8Array, open: number, end: number): number {
  for (let at = open + 2; at + 1 < end; at++) if (bytes[at] === 0x2a && bytes[at + 1] === 0x2f) return at + 2;
  return end;
}

/** The number of a parameter, integer or real; `undefined` when it is neither. */
export function numberOf(parameter: Parameter | undefined): number | undefined {
  if (typeof parameter === 'number') return parameter;
  if (parameter instanceof Real) return parameter.value;
  if (parameter instanceof Typed) return numberOf(parameter.value);
  return undefined;
}

/** Whether a parameter is the truth value .T. */
export function isTrue(parameter: Parameter | undefined): boolean {
  return parameter instanceof Enumeration && parameter.name === 'T';
}

/** The text of a parameter, also inside a typed one such as `IDENTIFIER('x')`. */
export function textOf(parameter: Parameter | undefined): string | undefined {
  if (typeof parameter === 'string') return parameter;
  if (parameter instanceof Typed) return textOf(parameter.value);
  return undefined;
}

/** The id that a parameter refers to. */
export function referenceOf(parameter: Parameter | undefined): number | undefined {
  return parameter instanceof Reference ? parameter.id : undefined;
}

/** The ids in a list of references, in order; other entries are left out. */
export function referencesOf(parameter: Parameter | undefined): number[] {
  if (!Array.isArray(parameter)) return [];
  return parameter.flatMap((entry) => (entry instanceof Reference ? [entry.id] : []));
}
