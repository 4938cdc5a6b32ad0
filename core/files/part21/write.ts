import {
  Binary,
  DERIVED,
  type EntityRecord,
  Enumeration,
  type Parameter,
  Real,
  Reference,
  Typed,
} from './parameters';
import { encodeString } from './strings';

const LINE_FEED = 0x0a;

/** The time in the header of files that shall not tell when they were made. */
export const NO_TIME = '2000-01-01T00:00:00';

/** A parameter as text (ISO 10303-21, 6.4). Reals keep full double precision and always carry a point. */
export function writeParameter(parameter: Parameter): string {
  if (parameter === '') return "''";
  if (parameter === null) return '$';
  if (parameter === DERIVED) return '*';
  if (typeof parameter === 'string') return `'${encodeString(parameter)}'`;
  if (typeof parameter === 'number') {
    if (!Number.isSafeInteger(parameter))
      throw new RangeError(`${parameter} is not an integer: wrap it as Real`);
    return String(parameter);
  }
  if (parameter instanceof Real) return writeReal(parameter.value);
  if (parameter instanceof Reference) return `#${parameter.id}`;
  if (parameter instanceof Enumeration) return `.${parameter.name}.`;
  if (parameter instanceof Binary) return `"${parameter.digits}"`;
  if (parameter instanceof Typed) return `${parameter.keyword}(${writeParameter(parameter.value)})`;
  return writeList(parameter);
}

/** One instance as a line of text, without the line end. */
export function writeInstance(id: number, records: readonly EntityRecord[]): string {
  if (records.length === 1) return `#${id}=${writeRecord(records[0]!)};`;
  return `#${id}=(${records.map(writeRecord).join('')});`;
}

/** Partial records stand in the alphabetical order of their keywords (ISO 10303-21, 11.2.5.3); readers rely on it. */
export function inStandardOrder<Record extends Pick<EntityRecord, 'keyword'>>(
  records: readonly Record[],
): Record[] {
  return [...records].sort((a, b) => (a.keyword < b.keyword ? -1 : a.keyword > b.keyword ? 1 : 0));
}

function writeRecord({ keyword, parameters }: EntityRecord): string {
  return `${keyword}${writeList(parameters)}`;
}

/** Written by hand, as many thousand short lists are: `map` and `join` take twice as long. */
function writeList(parameters: readonly Parameter[]): string {
  let text = '(';
  for (let n = 0; n < parameters.length; n++) {
    if (n > 0) text += ',';
    text += writeParameter(parameters[n]!);
  }
  return `${text})`;
}

function writeReal(value: number): string {
  if (!Number.isFinite(value)) throw new RangeError(`${value} cannot be written to a STEP file`);
  const text = String(Object.is(value, -0) ? 0 : value).toUpperCase();
  const [mantissa, exponent] = text.split('E') as [string, string | undefined];
  const pointed = mantissa.includes('.') ? mantissa : `${mantissa}.`;
  return exponent === undefined ? pointed : `${pointed}E${exponent.replace('+', '')}`;
}

/** What the writer puts into the header; the rest of the fields stay empty. */
export interface HeaderToWrite {
  name: string;
  /** ISO 8601 without zone, as the standard wants it. */
  timeStamp: string;
  author?: string;
  organization?: string;
  originatingSystem: string;
  schema: string;
}

/** Builds a new exchange structure instance by instance. References are handed out as ids when added. */
export class Part21Builder {
  /** Lines of ASCII, and instances that were copied as bytes; each with its line end. */
  private readonly pieces: (string | Uint8Array)[] = [];
  private lines = '';

  /** @param next number of the first instance; higher than all others when it goes on with a file that is there */
  constructor(private next = 1) {}

  /** Adds a simple instance and returns a reference to it. */
  add(keyword: string, ...parameters: Parameter[]): Reference {
    const reference = this.reserve();
    this.addAs(reference, keyword, ...parameters);
    return reference;
  }

  /** Adds a complex instance; its records are put in the order in which the standard wants them. */
  addComplex(...records: EntityRecord[]): Reference {
    const reference = this.reserve();
    this.lines += `${writeInstance(reference.id, inStandardOrder(records))}\n`;
    return reference;
  }

  /** A number for an instance that is added later. */
  reserve(): Reference {
    return new Reference(this.next++);
  }

  /** Numbers for many instances that are added later. @returns the first; the others follow */
  reserveMany(count: number): number {
    const first = this.next;
    this.next += count;
    return first;
  }

  addAs({ id }: Reference, keyword: string, ...parameters: Parameter[]): void {
    this.lines += `#${id}=${keyword}${writeList(parameters)};\n`;
  }

  /** Adds whole instances that are written already. Their bytes must not change before the file is finished. */
  addBytes(instances: Uint8Array): void {
    this.flush();
    this.pieces.push(instances);
    if (instances.at(-1) !== LINE_FEED) this.lines = '\n';
  }

  private flush(): void {
    if (this.lines !== '') this.pieces.push(this.lines);
    this.lines = '';
  }

  /** What was added so far, as lines of a data section. */
  instances(): Uint8Array {
    this.flush();
    return joined(this.pieces);
  }

  finish(header: HeaderToWrite): Uint8Array {
    this.flush();
    const head = [
      'ISO-10303-21;',
      'HEADER;',
      `FILE_DESCRIPTION(${writeParameter([''])},'2;1');`,
      `FILE_NAME${writeList([
        header.name,
        header.timeStamp,
        [header.author ?? ''],
        [header.organization ?? ''],
        'Stone Tray',
        header.originatingSystem,
        '',
      ])};`,
      `FILE_SCHEMA(${writeParameter([header.schema])});`,
      'ENDSEC;',
      'DATA;',
      '',
    ].join('\n');
    return joined([head, ...this.pieces, 'ENDSEC;\nEND-ISO-10303-21;\n']);
  }
}

/** Pieces one after the other, laid out in one go. */
function joined(pieces: readonly (string | Uint8Array)[]): Uint8Array {
  let length = 0;
  for (const piece of pieces) length += piece.length;
  const bytes = Buffer.allocUnsafe(length);
  let at = 0;
  for (const piece of pieces) {
    if (typeof piece === 'string') bytes.write(piece, at, 'latin1');
    else bytes.set(piece, at);
    at += piece.length;
  }
  return bytes;
}
