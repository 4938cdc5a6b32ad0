import type { Readable } from 'node:stream';
import {
  type Entry,
  fromBuffer,
  fromRandomAccessReader,
  open,
  RandomAccessReader,
  type ZipFile,
} from 'yauzl';
import { pathProblem } from '#core/files/links/paths';
import { Refusal } from '#core/refusal';
import { INPUT_LIMITS, type InputLimits, RATIO_FREE_BYTES, WHOLE_FREE_BYTES, WHOLE_RATIO } from './limits';

/** An archive that is broken or hostile as a whole. */
export class ArchiveError extends Refusal {}

/** An entry that is not taken; its message goes on from the entry's name. */
export class EntryRefused extends Refusal {}

/** A zip: in memory, on disk, or kept elsewhere and read in pieces. */
export type ZipSource = Buffer | string | { bytes: number; stream(from: number, to: number): Readable };

/** An entry of a zip: its content in pieces, or why it was refused. */
export type ZipEntry =
  | { path: string; isComposed: boolean; content: AsyncIterable<Buffer> }
  | { path: string; refused: string };

/**
 * Reads a zip entry by entry; each is unpacked only while it is read, and before the next is asked for. Refused, with the rest going on: paths
 * that leave the folder, links, encrypted entries, files beyond the limits. What the directory of the zip says about sizes is not believed:
 * unpacking stops where a limit is passed, and then the content fails with EntryRefused.
 * @throws ArchiveError when the zip itself cannot be read or the whole is beyond the limits, also from a content
 */
export async function* readZip(
  source: ZipSource,
  limits: InputLimits = INPUT_LIMITS,
): AsyncGenerator<ZipEntry> {
  const zip = await openZip(source);
  try {
    await refuseCrowded(source, zip.entryCount, limits);
    let packed = 0;
    const most = Math.min(limits.totalBytes, Math.max(WHOLE_FREE_BYTES, WHOLE_RATIO * zip.fileSize));
    const budget = { left: most, most };
    for await (const entry of entriesOf(zip)) {
      const written = decodeName(entry);
      // Some systems write `é` as an `e` and an accent; nothing would be found by its name.
      const path = written.normalize('NFC');
      if (path.endsWith('/')) continue;
      packed += entry.compressedSize;
      if (packed > zip.fileSize)
        throw new ArchiveError('Entries of the zip lie over each other, as no program writes them.');
      const refused = whyRefused(entry, path, limits);
      yield refused
        ? { path, refused }
        : { path, isComposed: path !== written, content: contentOf(zip, entry, limits, budget) };
    }
  } finally {
    zip.close();
  }
}

/** Too many files are refused by what the directory lists, before anything is unpacked. @throws ArchiveError */
async function refuseCrowded(source: ZipSource, listed: number, limits: InputLimits): Promise<void> {
  const words = () =>
    `The zip holds ${listed.toLocaleString('en')} entries; one import takes ${limits.files.toLocaleString('en')} files at most. Import it in parts.`;
  // No folder of files has more folders than that beside them.
  if (listed > 2 * limits.files) throw new ArchiveError(words());
  if (listed <= limits.files) return;
  const zip = await openZip(source);
  try {
    let files = 0;
    for await (const entry of entriesOf(zip))
      if (!decodeName(entry).endsWith('/') && ++files > limits.files) throw new ArchiveError(words());
  } finally {
    zip.close();
  }
}

function openZip(source: ZipSource): Promise<ZipFile> {
  const options = {
    lazyEntries: true,
    autoClose: false,
    decodeStrings: false,
    validateEntrySizes: true,
  } as const;
  return new Promise((resolve, reject) => {
    const done = (error: Error | null, zip?: ZipFile) =>
      error || !zip
        ? reject(new ArchiveError(`This is not a zip that can be read: ${error?.message ?? 'no content'}.`))
        : resolve(zip);
    if (typeof source === 'string') open(source, options, done);
    else if (Buffer.isBuffer(source)) fromBuffer(source, options, done);
    else fromRandomAccessReader(new ReaderInPieces(source.stream), source.bytes, options, done);
  });
}

async function* entriesOf(zip: ZipFile): AsyncGenerator<Entry> {
  for (;;) {
    const entry = await new Promise<Entry | undefined>((resolve, reject) => {
      const settle = (act: () => void) => {
        zip.removeAllListeners('entry').removeAllListeners('end').removeAllListeners('error');
        act();
      };
      zip.on('entry', (next: Entry) => settle(() => resolve(next)));
      zip.on('end', () => settle(() => resolve(undefined)));
      zip.on('error', (error: Error) =>
        settle(() => reject(new ArchiveError(`The zip is broken: ${error.message}.`))),
      );
      zip.readEntry();
    });
    if (!entry) return;
    yield entry;
  }
}

/** Names are UTF-8 when the entry says so; else they are tried as UTF-8 and fall back to Latin-1. */
function decodeName(entry: Entry): string {
  const raw = entry.fileName as unknown as Buffer;
  let name: string;
  try {
    name = new TextDecoder('utf-8', { fatal: true }).decode(raw);
  } catch {
    name = raw.toString('latin1');
  }
  return name.replaceAll('\\', '/');
}

function whyRefused(entry: Entry, path: string, limits: InputLimits): string | undefined {
  const problem = pathProblem(path);
  if (problem) return problem;
  const type = (entry.externalFileAttributes >>> 16) & 0o170000;
  if (type !== 0 && type !== 0o100000) return type === 0o120000 ? 'it is a link' : 'it is no ordinary file';
  if ((entry.generalPurposeBitFlag & 1) !== 0) return 'it is encrypted';
  if (entry.compressionMethod !== 0 && entry.compressionMethod !== 8)
    return 'it is packed with a method that is not supported';
  if (entry.uncompressedSize > limits.fileBytes) return `it is larger than ${megabytes(limits.fileBytes)}`;
  if (
    entry.uncompressedSize > RATIO_FREE_BYTES &&
    entry.uncompressedSize > entry.compressedSize * limits.ratio
  )
    return `it unpacks to more than ${limits.ratio} times its size`;
  return undefined;
}

class ReaderInPieces extends RandomAccessReader {
  constructor(override readonly _readStreamForRange: (from: number, to: number) => Readable) {
    super();
  }
}

/** An entry as it is unpacked; the bytes of all of them come out of one budget. */
async function* contentOf(
  zip: ZipFile,
  entry: Entry,
  limits: InputLimits,
  budget: { left: number; most: number },
): AsyncGenerator<Buffer> {
  let size = 0;
  try {
    const stream: AsyncIterable<Buffer> = await zip.openReadStreamPromise(entry);
    for await (const piece of stream) {
      size += piece.length;
      budget.left -= piece.length;
      if (size > limits.fileBytes) throw new EntryRefused(`it is larger than ${megabytes(limits.fileBytes)}`);
      if (budget.left < 0)
        throw new ArchiveError(
          `Unpacked, the zip is larger than the ${megabytes(budget.most)} that it may be.`,
        );
      if (size > RATIO_FREE_BYTES && size > entry.compressedSize * limits.ratio)
        throw new EntryRefused(`it unpacks to more than ${limits.ratio} times its size`);
      yield piece;
    }
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new EntryRefused(`it cannot be unpacked: ${(error as Error).message}`);
  }
}

function megabytes(bytes: number): string {
  return `${Math.round(bytes / 1024 / 1024).toLocaleString('en')} MB`;
}
