import { Refusal } from '#core/refusal';

/** A place in a text, as people count: both start at 1; the column counts bytes. */
export interface TextPlace {
  line: number;
  column: number;
}

/** Finds line and column of a byte offset. CR, LF and CR LF each end one line. */
export function placeOf(bytes: Uint8Array, offset: number): TextPlace {
  let line = 1;
  let lineStart = 0;
  const end = Math.min(offset, bytes.length);
  for (let at = 0; at < end; at++) {
    const byte = bytes[at];
    if (byte === 0x0a || (byte === 0x0d && bytes[at + 1] !== 0x0a)) {
      line++;
      lineStart = at + 1;
    }
  }
  return { line, column: end - lineStart + 1 };
}

/** Text that is not ISO 10303-21, with the place and what should have stood there. */
export class Part21Error extends Refusal {
  readonly place: TextPlace;

  constructor(
    bytes: Uint8Array,
    readonly offset: number,
    readonly problem: string,
    readonly expected: string,
  ) {
    const place = placeOf(bytes, offset);
    super(`line ${place.line}, column ${place.column}: ${problem}; expected ${expected}`);
    this.name = 'Part21Error';
    this.place = place;
  }
}
