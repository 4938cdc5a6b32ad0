import { Part21Error } from './errors';
import { indexPlainSection } from './fast/fast-indexer';
import { type InstanceIndex, InstanceIndexer } from './instance-index';
import { parameterStart, referenceAt, referencesAt, stringAt, type WrittenString } from './one-parameter';
import {
  type EntityRecord,
  endOfComment,
  endOfString,
  type OnString,
  type Parameter,
  ParameterReader,
  skipBlank,
  textOf,
} from './parameters';

/** What the HEADER section says (ISO 10303-21, 8.2). */
export interface Header {
  description: string[];
  name: string;
  timeStamp: string;
  authors: string[];
  organizations: string[];
  preprocessor: string;
  originatingSystem: string;
  authorization: string;
  /** Schema names without their object identifiers, upper case as written. */
  schemas: string[];
  /** The same with their object identifiers. */
  writtenSchemas: string[];
}

/** An instance, parsed: its number and its one record, or the records of a complex instance. */
export interface Instance {
  id: number;
  records: EntityRecord[];
}

const MAGIC = 'ISO-10303-21';

/**
 * A file of ISO 10303-21 ("clear text encoding of the exchange structure"): header and index are read at once,
 * instances when they are asked for. Anchor, reference and signature sections of edition 3 are passed over.
 * The bytes are never copied and never changed.
 */
export class Part21File {
  private positions: Int32Array | Map<number, number> | undefined;
  private readonly byType = new Map<string, number[]>();
  private readonly parsed = new Map<number, Instance>();
  private complex: number[] | undefined;
  private knownHighest: number | undefined;

  private constructor(
    readonly bytes: Uint8Array,
    readonly header: Header,
    readonly index: InstanceIndex,
    /** How many instances are referred to and not there; undefined when nobody looked. */
    readonly missing?: number,
    /** Bytes of what the reference section holds: instances that stand in other files. */
    readonly referenceSection?: { start: number; end: number },
  ) {}

  /**
   * @param check look for references to instances that are not there, if that is cheap (`missing`)
   * @throws Part21Error when the bytes are not a whole exchange structure
   */
  static read(bytes: Uint8Array, { check = false } = {}): Part21File {
    return Part21File.readSections(bytes, true, check) ?? Part21File.readSections(bytes, false, false)!;
  }

  /** @returns undefined when `fast` is asked for and the file is not plain enough for it */
  private static readSections(bytes: Uint8Array, fast: boolean, check: boolean): Part21File | undefined {
    // 1. The magic keyword, after a byte order mark if there is one.
    let at = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
    at = skipBlank(bytes, at, bytes.length);
    if (bytes.length === 0) throw new Part21Error(bytes, 0, 'the file is empty', `'${MAGIC};'`);
    if (wordAt(bytes, at) !== MAGIC)
      throw new Part21Error(bytes, at, 'this is not a STEP file', `'${MAGIC};'`);
    at = expectSemicolon(bytes, at + MAGIC.length);

    // 2. Section after section, until the end of the exchange structure.
    let header: Header | undefined;
    let dataSections = 0;
    const indexer = fast ? undefined : new InstanceIndexer(bytes);
    let index: InstanceIndex | undefined;
    let missing: number | undefined;
    let referenceSection: { start: number; end: number } | undefined;
    for (;;) {
      at = skipBlank(bytes, at, bytes.length);
      const word = wordAt(bytes, at);
      if (word === `END-${MAGIC}`) {
        expectSemicolon(bytes, at + word.length);
        break;
      }
      if (word === 'HEADER') {
        ({ header, at } = readHeader(bytes, expectSemicolon(bytes, at + word.length)));
      } else if (word === 'DATA') {
        if (!header) throw new Part21Error(bytes, at, 'DATA before HEADER', "'HEADER;'");
        at = skipSectionParameters(bytes, at + word.length);
        if (indexer) at = indexer.indexSection(at);
        else {
          const plain = index ? undefined : indexPlainSection(bytes, at, check);
          if (!plain) return undefined;
          ({ index, at, missing } = plain);
        }
        at = expectEndOfSection(bytes, at);
        dataSections++;
      } else if (word === 'ANCHOR' || word === 'REFERENCE' || word === 'SIGNATURE') {
        const start = at + word.length;
        at = skipSection(bytes, start);
        if (word === 'REFERENCE') referenceSection = { start, end: at };
      } else {
        const problem = at >= bytes.length ? 'the file ends here' : `found '${printable(word || bytes, at)}'`;
        throw new Part21Error(bytes, at, problem, dataSections === 0 ? 'a section' : `'END-${MAGIC};'`);
      }
    }
    if (!header) throw new Part21Error(bytes, 0, 'the file has no header', "'HEADER;'");
    if (dataSections === 0) throw new Part21Error(bytes, at, 'the file has no data section', "'DATA;'");
    return new Part21File(bytes, header, index ?? indexer!.finish(), missing, referenceSection);
  }

  get instanceCount(): number {
    return this.index.count;
  }

  has(id: number): boolean {
    return this.position(id) !== undefined;
  }

  /** Upper-case keyword of an instance; '' for a complex one; undefined when there is no such instance. */
  typeOf(id: number): string | undefined {
    const position = this.position(id);
    return position === undefined ? undefined : this.index.keywords[this.index.types[position]!];
  }

  /** Ids of all simple instances of one entity type, in file order. */
  idsOfType(keyword: string): readonly number[] {
    let found = this.byType.get(keyword);
    if (!found) {
      found = this.findType(keyword);
      this.byType.set(keyword, found);
    }
    return found;
  }

  /** Ids of the complex instances that contain a record of this entity type. */
  complexIdsWith(keyword: string): number[] {
    this.complex ??= this.complexPositions();
    const { contents, ends, ids } = this.index;
    const needle = Buffer.from(keyword, 'latin1');
    const buffer = Buffer.from(this.bytes.buffer, this.bytes.byteOffset, this.bytes.byteLength);
    return this.complex.flatMap((position) => {
      const text = buffer.subarray(contents[position], ends[position]);
      return text.includes(needle) && this.entity(ids[position]!, keyword) ? [ids[position]!] : [];
    });
  }

  /**
   * Parses one instance. Instances are kept, since those of the product structure are asked for again and again.
   * @throws Part21Error when its text is broken; undefined when there is none of that number
   */
  instance(id: number, onString?: OnString): Instance | undefined {
    const known = onString ? undefined : this.parsed.get(id);
    if (known) return known;
    const position = this.position(id);
    if (position === undefined) return undefined;
    const end = this.index.ends[position]! - 1;
    const reader = new ParameterReader(this.bytes, this.index.contents[position]!, end, onString);
    const type = this.index.types[position]!;
    const records = type === 0 ? reader.readRecords() : [reader.readRecordOf(this.index.keywords[type]!)];
    reader.skipBlank();
    if (reader.at < end) reader.fail(`more text in instance #${id}`, "';'");
    const instance = { id, records };
    this.parsed.set(id, instance);
    return instance;
  }

  /** Parameters of the record of one entity type in an instance, simple or complex. */
  entity(id: number | undefined, keyword: string): Parameter[] | undefined {
    if (id === undefined) return undefined;
    const type = this.typeOf(id);
    if (type === undefined || (type !== '' && type !== keyword)) return undefined;
    return this.instance(id)?.records.find((record) => record.keyword === keyword)?.parameters;
  }

  /** Parameters of a simple instance, whatever its type. */
  parameters(id: number | undefined): Parameter[] | undefined {
    if (id === undefined) return undefined;
    const records = this.instance(id)?.records;
    return records?.length === 1 ? records[0]!.parameters : undefined;
  }

  /** The string at one position of a simple instance, with its bytes; the rest of the instance is not parsed. */
  stringOf(id: number | undefined, position: number): WrittenString | undefined {
    const found = this.parameterOf(id, position);
    return found && stringAt(this.bytes, found.at, found.end);
  }

  /** The reference at one position of a simple instance; the rest of the instance is not parsed. */
  referenceOf(id: number | undefined, position: number): number | undefined {
    const found = this.parameterOf(id, position);
    return found && referenceAt(this.bytes, found.at, found.end);
  }

  /** The list of references at one position of a simple instance; the rest of the instance is not parsed. */
  referencesOf(id: number | undefined, position: number): number[] {
    const found = this.parameterOf(id, position);
    return found ? referencesAt(this.bytes, found.at, found.end) : [];
  }

  private parameterOf(id: number | undefined, position: number): { at: number; end: number } | undefined {
    const index = id === undefined ? undefined : this.position(id);
    if (index === undefined || this.index.types[index] === 0) return undefined;
    const keyword = this.index.keywords[this.index.types[index]!]!;
    const end = this.index.ends[index]! - 1;
    const open = skipBlank(this.bytes, this.index.contents[index]! + keyword.length, end);
    const at = parameterStart(this.bytes, open, end, position);
    return at < 0 ? undefined : { at, end };
  }

  /** The byte range of a whole instance, from `#` to just after `;`. */
  rangeOf(id: number): { start: number; end: number } | undefined {
    const position = this.position(id);
    return position === undefined
      ? undefined
      : { start: this.index.starts[position]!, end: this.index.ends[position]! };
  }

  /** The byte range of what stands after `=`: from the keyword, or the `(` of a complex instance, to just after `;`. */
  contentOf(id: number): { content: number; end: number } | undefined {
    const position = this.position(id);
    return position === undefined
      ? undefined
      : { content: this.index.contents[position]!, end: this.index.ends[position]! };
  }

  /** Places in the index by number of the instance: in an array counted from 1, 0 for none; in a map from 0. */
  get positionTable(): Int32Array | ReadonlyMap<number, number> {
    this.positions ??= this.lookUpTable();
    return this.positions;
  }

  /** Place of an instance in the index. */
  position(id: number): number | undefined {
    this.positions ??= this.lookUpTable();
    if (this.positions instanceof Map) return this.positions.get(id);
    const position = this.positions[id];
    return position === undefined || position === 0 ? undefined : position - 1;
  }

  /** The largest number of an instance; 0 for a file without instances. */
  get highest(): number {
    if (this.knownHighest === undefined) {
      const { ids, count } = this.index;
      let highest = 0;
      for (let position = 0; position < count; position++) highest = Math.max(highest, ids[position]!);
      this.knownHighest = highest;
    }
    return this.knownHighest;
  }

  /** Ids are mostly dense, so an array serves; a few huge ids in a small file get a map. Array entries count from 1. */
  private lookUpTable(): Int32Array | Map<number, number> {
    const { highest } = this;
    const { ids, count, starts } = this.index;
    const duplicate = (position: number) =>
      new Part21Error(
        this.bytes,
        starts[position]!,
        `#${ids[position]} is defined twice`,
        'each number once',
      );
    if (highest > 8 * count + 1024) {
      const map = new Map<number, number>();
      for (let position = 0; position < count; position++) {
        if (map.has(ids[position]!)) throw duplicate(position);
        map.set(ids[position]!, position);
      }
      return map;
    }
    const table = new Int32Array(highest + 1);
    for (let position = 0; position < count; position++) {
      if (table[ids[position]!] !== 0) throw duplicate(position);
      table[ids[position]!] = position + 1;
    }
    return table;
  }

  /** A keyword may have several numbers when the file writes it in upper and in lower case. */
  private findType(keyword: string): number[] {
    const { ids, types, keywords } = this.index;
    const positions: number[] = [];
    keywords.forEach((text, type) => {
      if (type === 0 || text !== keyword) return;
      for (let position = types.indexOf(type); position >= 0; position = types.indexOf(type, position + 1))
        positions.push(position);
    });
    return positions.sort((a, b) => a - b).map((position) => ids[position]!);
  }

  private complexPositions(): number[] {
    const positions: number[] = [];
    const { types, count } = this.index;
    for (let position = 0; position < count; position++) if (types[position] === 0) positions.push(position);
    return positions;
  }
}

/** True when bytes begin like an exchange structure; says nothing about the rest. */
export function looksLikePart21(bytes: Uint8Array): boolean {
  const at = skipBlank(bytes, bytes[0] === 0xef ? 3 : 0, Math.min(bytes.length, 4096));
  return wordAt(bytes, at) === MAGIC;
}

/** Reads the HEADER section of bytes that may go on, or break off, after it. */
export function readHeaderOnly(bytes: Uint8Array): Header | undefined {
  const at = Buffer.from(bytes.buffer, bytes.byteOffset, Math.min(bytes.byteLength, 65536)).indexOf(
    'HEADER;',
  );
  if (at < 0) return undefined;
  try {
    return readHeader(bytes, at + 7).header;
  } catch {
    return undefined;
  }
}

function readHeader(bytes: Uint8Array, from: number): { header: Header; at: number } {
  const header: Header = {
    description: [],
    name: '',
    timeStamp: '',
    authors: [],
    organizations: [],
    preprocessor: '',
    originatingSystem: '',
    authorization: '',
    schemas: [],
    writtenSchemas: [],
  };
  const reader = new ParameterReader(bytes, from);
  for (;;) {
    reader.skipBlank();
    if (wordAt(bytes, reader.at) === 'ENDSEC') break;
    const { keyword, parameters } = reader.readRecord();
    reader.at = expectSemicolon(bytes, reader.at);
    if (keyword === 'FILE_DESCRIPTION') header.description = texts(parameters[0]);
    else if (keyword === 'FILE_SCHEMA') {
      header.writtenSchemas = texts(parameters[0]);
      header.schemas = header.writtenSchemas.map(schemaName);
    } else if (keyword === 'FILE_NAME') {
      header.name = textOf(parameters[0]) ?? '';
      header.timeStamp = textOf(parameters[1]) ?? '';
      header.authors = texts(parameters[2]);
      header.organizations = texts(parameters[3]);
      header.preprocessor = textOf(parameters[4]) ?? '';
      header.originatingSystem = textOf(parameters[5]) ?? '';
      header.authorization = textOf(parameters[6]) ?? '';
    }
  }
  return { header, at: expectEndOfSection(bytes, reader.at) };
}

/** `AP242_... { 1 0 10303 442 1 1 4 }` -> `AP242_...` */
function schemaName(written: string): string {
  return written.replace(/\s*\{[^}]*\}\s*$/, '').trim();
}

function texts(parameter: Parameter | undefined): string[] {
  return Array.isArray(parameter) ? parameter.flatMap((entry) => textOf(entry) ?? []) : [];
}

function wordAt(bytes: Uint8Array, at: number): string {
  let word = '';
  for (let end = at; end < bytes.length && word.length < 40; end++) {
    const byte = bytes[end]!;
    const isWord =
      (byte >= 0x41 && byte <= 0x5a) || (byte >= 0x30 && byte <= 0x39) || byte === 0x2d || byte === 0x5f;
    if (!isWord) break;
    word += String.fromCharCode(byte);
  }
  return word;
}

function printable(found: string | Uint8Array, at: number): string {
  if (typeof found === 'string') return found;
  return String.fromCharCode(...found.subarray(at, at + 12)).replace(/[^ -~]/g, '?');
}

function expectSemicolon(bytes: Uint8Array, from: number): number {
  const at = skipBlank(bytes, from, bytes.length);
  if (bytes[at] !== 0x3b)
    throw new Part21Error(
      bytes,
      at,
      at >= bytes.length ? 'the file ends here' : 'something else stands here',
      "';'",
    );
  return at + 1;
}

function expectEndOfSection(bytes: Uint8Array, at: number): number {
  if (wordAt(bytes, at) !== 'ENDSEC') {
    const problem = at >= bytes.length ? 'the file ends inside a section' : `found '${printable(bytes, at)}'`;
    throw new Part21Error(bytes, at, problem, "an instance or 'ENDSEC;'");
  }
  return expectSemicolon(bytes, at + 'ENDSEC'.length);
}

/** A data section of edition 2 and later may have a name and a schema: `DATA('part',('SCHEMA'));`. */
function skipSectionParameters(bytes: Uint8Array, from: number): number {
  let at = skipBlank(bytes, from, bytes.length);
  if (bytes[at] === 0x28) at = skipToSemicolon(bytes, at) - 1;
  return expectSemicolon(bytes, at);
}

function skipSection(bytes: Uint8Array, from: number): number {
  let at = from;
  for (;;) {
    at = skipToSemicolon(bytes, at);
    const next = skipBlank(bytes, at, bytes.length);
    if (wordAt(bytes, next) === 'ENDSEC') return expectSemicolon(bytes, next + 'ENDSEC'.length);
  }
}

function skipToSemicolon(bytes: Uint8Array, from: number): number {
  for (let at = from; at < bytes.length; ) {
    const byte = bytes[at];
    if (byte === 0x3b) return at + 1;
    if (byte === 0x27) {
      const close = endOfString(bytes, at, bytes.length);
      if (close < 0) break;
      at = close + 1;
    } else if (byte === 0x3c) {
      // The name of an anchor, or a URI: either may hold a semicolon.
      const close = bytes.indexOf(0x3e, at);
      if (close < 0) break;
      at = close + 1;
    } else if (byte === 0x2f && bytes[at + 1] === 0x2a) at = endOfComment(bytes, at, bytes.length);
    else at++;
  }
  throw new Part21Error(bytes, bytes.length, 'the file ends inside a section', "';'");
}
