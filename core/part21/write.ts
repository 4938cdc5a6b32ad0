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

/** A parameter as text (ISO 10303-21, 6.4). Reals keep full double precision and always carry a point. */
export function writeParameter(parameter: Parameter): string {
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
  return `(${parameter.map(writeParameter).join(',')})`;
}

/** One instance as a line of text, without the line end. */
export function writeInstance(id: number, records: readonly EntityRecord[]): string {
  const texts = records.map(
    ({ keyword, parameters }) => `${keyword}(${parameters.map(writeParameter).join(',')})`,
  );
  return records.length === 1 ? `#${id}=${texts[0]};` : `#${id}=(${texts.join('')});`;
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
  private readonly pieces: Uint8Array[] = [];
  private lines: string[] = [];

  /** @param next number of the first instance; higher than all others when it goes on with a file that is there */
  constructor(private next = 1) {}

  /** Adds a simple instance and returns a reference to it. */
  add(keyword: string, ...parameters: Parameter[]): Reference {
    return this.addComplex({ keyword, parameters });
  }

  addComplex(...records: EntityRecord[]): Reference {
    const reference = this.reserve();
    this.lines.push(writeInstance(reference.id, records));
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
    this.lines.push(writeInstance(id, [{ keyword, parameters }]));
  }

  /** Adds whole instances that are written already, with a line end behind each. */
  addBytes(instances: Uint8Array): void {
    this.flush();
    this.pieces.push(instances);
  }

  private flush(): void {
    if (this.lines.length > 0) this.pieces.push(Buffer.from(`${this.lines.join('\n')}\n`, 'latin1'));
    this.lines = [];
  }

  /** What was added so far, as lines of a data section. */
  instances(): Uint8Array {
    this.flush();
    return Buffer.concat(this.pieces);
  }

  finish(header: HeaderToWrite): Uint8Array {
    this.flush();
    const head = [
      'ISO-10303-21;',
      'HEADER;',
      `FILE_DESCRIPTION(${writeParameter([''])},'2;1');`,
      `FILE_NAME(${[
        header.name,
        header.timeStamp,
        [header.author ?? ''],
        [header.organization ?? ''],
        'Stone Tray',
        header.originatingSystem,
        '',
      ]
        .map(writeParameter)
        .join(',')});`,
      `FILE_SCHEMA(${writeParameter([header.schema])});`,
      'ENDSEC;',
      'DATA;',
      '',
    ].join('\n');
    return Buffer.concat([
      Buffer.from(head, 'latin1'),
      ...this.pieces,
      Buffer.from('ENDSEC;\nEND-ISO-10303-21;\n', 'latin1'),
    ]);
  }
}
