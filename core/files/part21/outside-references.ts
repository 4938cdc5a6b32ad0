import type { Part21File } from './file';

/** An instance that stands in another file: an entry of the reference section (ISO 10303-21:2016, 10). */
export interface OutsideReference {
  /** Number by which the data section refers to it. */
  id: number;
  /** Bytes of the file's path in the URI, without the fragment; empty where the fragment is one of this very file. */
  start: number;
  end: number;
  /** The path as it is written, percent-encoded. */
  path: string;
}

const ENTRY = /[#@](\d{1,15})\s*=\s*<([^<>#]*)(?:#[^<>]*)?>/g;

/** Instances that stand in other files, as far as the file names them; none in files of earlier editions. */
export function outsideReferences({ bytes, referenceSection }: Part21File): OutsideReference[] {
  if (!referenceSection) return [];
  const { start: from, end } = referenceSection;
  const text = Buffer.from(bytes.buffer, bytes.byteOffset + from, end - from).toString('latin1');
  return [...text.matchAll(ENTRY)].map(({ 0: whole, 1: id, 2: path = '', index }) => {
    const start = from + index + whole.indexOf('<') + 1;
    return { id: Number(id), start, end: start + path.length, path };
  });
}

/** Whether bytes have a reference section: a search in what stands before the data. */
export function mayReferOutside(bytes: Uint8Array): boolean {
  const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const data = buffer.indexOf('DATA');
  return buffer.subarray(0, data < 0 ? undefined : data).includes('REFERENCE');
}
