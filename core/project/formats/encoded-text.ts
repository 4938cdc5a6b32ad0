import { isUtf8 } from 'node:buffer';

type Encoding = 'UTF-8' | 'Latin-1' | 'UTF-16LE' | 'UTF-16BE';

/** Bytes of the byte order mark of UTF-16. */
const MARK = 2;

/**
 * The text of a file in whatever encoding it is, so that the bytes of every piece of it are known. In UTF-8 and Latin-1 one
 * character stands for one byte, and what is not ASCII is decoded piece by piece: syntax is ASCII in every format read here.
 */
export class EncodedText {
  readonly text: string;
  private readonly encoding: Encoding;

  constructor(readonly bytes: Uint8Array) {
    const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.encoding = encodingOf(buffer);
    if (this.encoding === 'UTF-16LE') this.text = buffer.toString('utf16le', MARK);
    else if (this.encoding === 'UTF-16BE') this.text = swapped(buffer.subarray(MARK)).toString('utf16le');
    else this.text = buffer.toString('latin1');
  }

  /** A piece of the text as people read it. */
  decoded(start: number, end: number): string {
    const piece = this.text.slice(start, end);
    return this.encoding === 'UTF-8' ? Buffer.from(piece, 'latin1').toString('utf8') : piece;
  }

  /** The bytes that a piece of the text takes. */
  range(start: number, end: number): { start: number; end: number } {
    if (!this.encoding.startsWith('UTF-16')) return { start, end };
    return { start: MARK + 2 * start, end: MARK + 2 * end };
  }

  /** Null when the file is in Latin-1, and that cannot say it. */
  encode(text: string): Uint8Array | null {
    if (this.encoding === 'UTF-8') return Buffer.from(text, 'utf8');
    if (this.encoding === 'UTF-16LE') return Buffer.from(text, 'utf16le');
    if (this.encoding === 'UTF-16BE') return swapped(Buffer.from(text, 'utf16le'));
    return /[^\u0000-\u00ff]/.test(text) ? null : Buffer.from(text, 'latin1');
  }
}

function encodingOf(buffer: Buffer): Encoding {
  if (buffer[0] === 0xff && buffer[1] === 0xfe) return 'UTF-16LE';
  if (buffer[0] === 0xfe && buffer[1] === 0xff) return 'UTF-16BE';
  return isUtf8(buffer) ? 'UTF-8' : 'Latin-1';
}

/** With the two bytes of every unit the other way round; an odd byte at the end is left out. */
function swapped(bytes: Buffer): Buffer {
  return Buffer.from(bytes.subarray(0, bytes.length & ~1)).swap16();
}
