/**
 * Strings of ISO 10303-21 (clause 6.4.3): printable ASCII between apostrophes, everything else through
 * control directives. `\S\` shifts a character into the upper half of the current ISO 8859 page, `\P?\` picks
 * the page, `\X\hh` is one byte of ISO 8859-1, `\X2\..\X0\` is UTF-16 and `\X4\..\X0\` is UTF-32, both in hex.
 */

const APOSTROPHE = 0x27;
const BACKSLASH = 0x5c;
/** Text that stands in a file as it is. */
const PLAIN = /^[ -&(-[\]-~]*$/;
const utf8 = new TextDecoder('utf-8', { fatal: true });
const latin1 = new TextDecoder('latin1');
const pages = new Map<number, TextDecoder>();

/** Decodes the bytes between the apostrophes. Never fails: what is no valid directive stays as it is written. */
export function decodeString(bytes: Uint8Array, start: number, end: number): string {
  let plain = true;
  for (let at = start; at < end; at++) {
    const byte = bytes[at]!;
    if (byte === BACKSLASH || byte === APOSTROPHE || byte > 0x7e) {
      plain = false;
      break;
    }
  }
  if (plain) return asciiText.call(bytes, start, end);
  return decodeDirectives(undouble(rawText(bytes.subarray(start, end))));
}

/** Writes text as the bytes between the apostrophes: pure ASCII, readable by every edition of the standard. */
export function encodeString(text: string): string {
  if (PLAIN.test(text)) return text;
  let out = '';
  for (let at = 0; at < text.length; ) {
    const code = text.codePointAt(at)!;
    if (code >= 0x20 && code <= 0x7e) {
      out += code === APOSTROPHE ? "''" : code === BACKSLASH ? '\\\\' : String.fromCharCode(code);
      at++;
      continue;
    }
    let run = '';
    const wide = code > 0xffff;
    while (at < text.length) {
      const next = text.codePointAt(at)!;
      if ((next >= 0x20 && next <= 0x7e) || next > 0xffff !== wide) break;
      run += next
        .toString(16)
        .toUpperCase()
        .padStart(wide ? 8 : 4, '0');
      at += wide ? 2 : 1;
    }
    out += `\\X${wide ? 4 : 2}\\${run}\\X0\\`;
  }
  return out;
}

/** Many short strings are read: a decoder, or a view of the bytes for each, costs more than the text. */
const asciiText = (
  Buffer.prototype as unknown as { latin1Slice(this: Uint8Array, start: number, end: number): string }
).latin1Slice;

/** Bytes above ASCII are against the standard's first editions but common: UTF-8 if they are that, else Latin-1. */
function rawText(bytes: Uint8Array): string {
  try {
    return utf8.decode(bytes);
  } catch {
    return latin1.decode(bytes);
  }
}

function undouble(text: string): string {
  return text.replaceAll("''", "'");
}

/** A control directive at the start of a text, and what it stands for; the page applies to `\S\` only. */
const DIRECTIVES: readonly [RegExp, (match: RegExpMatchArray, page: number) => string][] = [
  [/^\\\\/, () => '\\'],
  [/^\\S\\([ -~])/, ([, character], page) => shifted(character!, page)],
  [/^\\X\\([0-9A-Fa-f]{2})/, ([, hex]) => String.fromCharCode(Number.parseInt(hex!, 16))],
  [/^\\X2\\((?:[0-9A-Fa-f]{4})*)\\X0\\/, ([, hex]) => fromHex(hex!, 4)],
  [/^\\X4\\((?:[0-9A-Fa-f]{8})*)\\X0\\/, ([, hex]) => fromHex(hex!, 8)],
];

function decodeDirectives(text: string): string {
  let page = 1;
  let out = '';
  let at = 0;
  for (let next = text.indexOf('\\'); next >= 0; next = text.indexOf('\\', at)) {
    out += text.slice(at, next);
    const rest = text.slice(next);
    const newPage = /^\\P([A-I])\\/.exec(rest);
    if (newPage) {
      page = newPage[1]!.charCodeAt(0) - 0x40;
      at = next + newPage[0].length;
      continue;
    }
    let length = 0;
    for (const [directive, decode] of DIRECTIVES) {
      const match = directive.exec(rest);
      if (!match) continue;
      out += decode(match, page);
      length = match[0].length;
      break;
    }
    if (length === 0) out += '\\';
    at = next + Math.max(1, length);
  }
  return out + text.slice(at);
}

function shifted(character: string, page: number): string {
  let decoder = pages.get(page);
  if (!decoder) {
    decoder = new TextDecoder(page === 1 ? 'latin1' : `iso-8859-${page}`);
    pages.set(page, decoder);
  }
  return decoder.decode(Uint8Array.of(character.charCodeAt(0) + 0x80));
}

function fromHex(hex: string, width: number): string {
  let out = '';
  for (let at = 0; at < hex.length; at += width) {
    const code = Number.parseInt(hex.slice(at, at + width), 16);
    out += width === 4 ? String.fromCharCode(code) : code <= 0x10ffff ? String.fromCodePoint(code) : '\uFFFD';
  }
  return out;
}
