import { constants, crc32, deflateRawSync, inflateRawSync } from 'node:zlib';
import { splice } from '#core/files/part21/splice';

/** An entry of a zip in memory, by what its directory says of it. */
export interface ZipPart {
  path: string;
  /** Packed and unpacked, as the directory says: neither is believed. */
  packed: number;
  unpacked: number;
  /** 0 stored, 8 deflated. */
  method: number;
  /** Bytes of its local header and of its content. */
  header: number;
  content: number;
  /** Bytes of its record in the directory. */
  record: number;
}

const [LOCAL, DIRECTORY, END] = [0x04034b50, 0x02014b50, 0x06054b50];
const [LOCAL_SIZE, RECORD_SIZE, END_SIZE] = [30, 46, 22];
const LONGEST_COMMENT = 0xffff;
/** More than any package of one model has. */
const MOST_PARTS = 20_000;

/** Whether bytes begin as a zip does. */
export function looksLikeZip(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
}

/**
 * The entries of a zip that is in memory (APPNOTE 6.3.3, 4.3). Nothing is unpacked.
 * @throws Error that says where, for one that is broken, encrypted, or in parts
 */
export function zipParts(bytes: Uint8Array): ZipPart[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const end = endOf(view);
  const count = view.getUint16(end + 10, true);
  let at = view.getUint32(end + 16, true);
  if (count > MOST_PARTS || count === 0xffff || at === 0xffffffff)
    throw new Error(`Byte ${end}: the zip lists more entries than are taken here.`);
  const parts: ZipPart[] = [];
  let taken = 0;
  for (let n = 0; n < count; n++) {
    if (at + RECORD_SIZE > bytes.length || view.getUint32(at, true) !== DIRECTORY)
      throw new Error(`Byte ${at}: expected entry ${n + 1} of the zip's directory.`);
    const [flags, method] = [view.getUint16(at + 8, true), view.getUint16(at + 10, true)];
    const [packed, unpacked] = [view.getUint32(at + 20, true), view.getUint32(at + 24, true)];
    const [name, extra, comment] = [28, 30, 32].map((field) => view.getUint16(at + field, true)) as [
      number,
      number,
      number,
    ];
    const header = view.getUint32(at + 42, true);
    const path = Buffer.from(bytes.subarray(at + RECORD_SIZE, at + RECORD_SIZE + name)).toString('utf8');
    if ((flags & 1) !== 0) throw new Error(`${path} in the zip is encrypted.`);
    if (header + LOCAL_SIZE > bytes.length || view.getUint32(header, true) !== LOCAL)
      throw new Error(`Byte ${header}: expected ${path} of the zip.`);
    const content =
      header + LOCAL_SIZE + view.getUint16(header + 26, true) + view.getUint16(header + 28, true);
    if (content + packed > bytes.length)
      throw new Error(`Byte ${content}: ${path} ends too early in the zip.`);
    taken += packed;
    if (taken > bytes.length)
      throw new Error('Entries of the zip lie over each other, as no program writes them.');
    parts.push({ path, packed, unpacked, method, header, content, record: at });
    at += RECORD_SIZE + name + extra + comment;
  }
  return parts;
}

/** The record at the end of a zip, which a comment may follow. */
function endOf(view: DataView): number {
  const last = view.byteLength - END_SIZE;
  for (let at = last; at >= Math.max(0, last - LONGEST_COMMENT); at--)
    if (view.getUint32(at, true) === END) return at;
  throw new Error('It is no zip, or it is cut off: its directory is missing.');
}

/** @param most bytes that it may have unpacked @throws Error for one that is larger, or cannot be unpacked */
export function contentOf(
  bytes: Uint8Array,
  { path, content, packed, method }: ZipPart,
  most: number,
): Uint8Array {
  const raw = bytes.subarray(content, content + packed);
  if (method !== 0 && method !== 8)
    throw new Error(`${path} in the zip is packed in a way that is not known.`);
  if (method === 0) {
    if (raw.length > most)
      throw new Error(`${path} in the zip is larger than the ${megabytes(most)} that are read.`);
    return raw;
  }
  try {
    return inflateRawSync(raw, { maxOutputLength: most });
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw new Error(
      code === 'ERR_BUFFER_TOO_LARGE'
        ? `${path} in the zip unpacks to more than the ${megabytes(most)} that are read.`
        : `${path} in the zip cannot be unpacked: ${(error as Error).message}.`,
    );
  }
}

/** Some bytes of what an entry begins with; none where it cannot be unpacked. */
export function beginningOf(bytes: Uint8Array, { content, packed, method }: ZipPart): Uint8Array {
  const raw = bytes.subarray(content, content + Math.min(packed, 2048));
  if (method === 0) return raw;
  try {
    return inflateRawSync(raw, { finishFlush: constants.Z_SYNC_FLUSH, maxOutputLength: 1024 * 1024 });
  } catch {
    return new Uint8Array();
  }
}

function megabytes(bytes: number): string {
  return `${Math.round(bytes / 1024 / 1024)} MB`;
}

/**
 * The zip with other contents for some of its entries. All others are copied as they are; offsets follow.
 * @param contents by the path of the entry
 */
export function withContents(bytes: Uint8Array, contents: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const parts = zipParts(bytes);
  const end = endOf(view);
  const edits: { start: number; end: number; content: Buffer }[] = [];
  const write = (start: number, size: 2 | 4, value: number) => {
    const content = Buffer.alloc(size);
    if (size === 2) content.writeUInt16LE(value);
    else content.writeUInt32LE(value);
    edits.push({ start, end: start + size, content });
  };
  const growths: { at: number; by: number }[] = [];
  for (const part of parts) {
    const unpacked = contents.get(part.path);
    if (!unpacked) continue;
    const packed = part.method === 0 ? Buffer.from(unpacked) : deflateRawSync(unpacked);
    const sum = crc32(unpacked);
    const flags = view.getUint16(part.header + 6, true);
    // Sizes stand in front from now on: what stood behind the content goes.
    const behind = (flags & 8) === 0 ? 0 : descriptorSize(view, part);
    write(part.header + 6, 2, flags & ~8);
    write(part.header + 14, 4, sum);
    write(part.header + 18, 4, packed.length);
    write(part.header + 22, 4, unpacked.length);
    edits.push({ start: part.content, end: part.content + part.packed + behind, content: packed });
    write(part.record + 8, 2, view.getUint16(part.record + 8, true) & ~8);
    write(part.record + 16, 4, sum);
    write(part.record + 20, 4, packed.length);
    write(part.record + 24, 4, unpacked.length);
    growths.push({ at: part.content, by: packed.length - part.packed - behind });
  }
  const movedBy = (at: number) =>
    growths.reduce((sum, growth) => (growth.at < at ? sum + growth.by : sum), 0);
  for (const { header, record } of parts)
    if (movedBy(header) !== 0) write(record + 42, 4, header + movedBy(header));
  const directory = view.getUint32(end + 16, true);
  if (movedBy(directory) !== 0) write(end + 16, 4, directory + movedBy(directory));
  return splice(
    bytes,
    edits.sort((a, b) => a.start - b.start),
  );
}

/** Bytes of the sums and sizes behind a content, with or without their mark. */
function descriptorSize(view: DataView, { content, packed }: ZipPart): number {
  const at = content + packed;
  if (at + 4 > view.byteLength) return 0;
  return view.getUint32(at, true) === 0x08074b50 ? 16 : 12;
}
