/*
 * Code pages of texts from before Unicode: one byte for a character, or for some languages two.
 */

/** Names of code pages as drawings write them, and as the Encoding Standard has them. */
const LABELS: { readonly [page: string]: string } = {
  ANSI_874: 'windows-874',
  ANSI_932: 'shift_jis',
  ANSI_936: 'gbk',
  ANSI_949: 'euc-kr',
  ANSI_950: 'big5',
  ANSI_1250: 'windows-1250',
  ANSI_1251: 'windows-1251',
  ANSI_1252: 'windows-1252',
  ANSI_1253: 'windows-1253',
  ANSI_1254: 'windows-1254',
  ANSI_1255: 'windows-1255',
  ANSI_1256: 'windows-1256',
  ANSI_1257: 'windows-1257',
  ANSI_1258: 'windows-1258',
  DOS866: 'ibm866',
  ISO8859_1: 'windows-1252',
  ISO8859_2: 'iso-8859-2',
  ISO8859_5: 'iso-8859-5',
  MACINTOSH: 'macintosh',
};
const TWO_BYTES = /shift_jis|gbk|euc-kr|big5/;

/** Reads and writes the characters of one code page; `utf-8` is one, too. */
export class CodePage {
  private readonly label: string;
  private bytes: Map<string, number> | undefined;

  /** @param name as a drawing has it; one that is not known is taken for the usual one */
  constructor(name: string) {
    this.label = name === 'utf-8' ? name : (LABELS[name.toUpperCase()] ?? 'windows-1252');
  }

  decode(bytes: Uint8Array): string {
    return new TextDecoder(this.label).decode(bytes);
  }

  /** The bytes of one character; undefined where the page has none, or takes more than one. */
  encode(character: string): number[] | undefined {
    if (this.label === 'utf-8') return [...Buffer.from(character)];
    if (character <= '\u007f') return [character.charCodeAt(0)];
    if (TWO_BYTES.test(this.label)) return undefined;
    this.bytes ??= new Map(
      Array.from({ length: 128 }, (_, n) => [this.decode(new Uint8Array([n + 128])), n + 128]),
    );
    const byte = this.bytes.get(character);
    return byte === undefined ? undefined : [byte];
  }
}
