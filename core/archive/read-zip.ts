import type { Readable } from 'node:stream';
import { type Entry, fromBuffer, open, type ZipFile } from 'yauzl';
import { pathProblem } from '#core/links/paths';
import { Refusal } from '#core/refusal';
import { INPUT_LIMITS, type InputLimits, RATIO_FREE_BYTES } from './limits';

/** An archive that is broken or hostile as a whole. */
export class ArchiveError extends Refusal {}

/** An entry of a zip: its content, or why it was refused. */
export type ZipEntry = { path: string; content: Buffer } | { path: string; refused: string };

/**
 * Reads a zip entry by entry; each is unpacked only when it is asked for. Refused, with the rest going on: paths
 * that leave the folder, links, encrypted entries, files beyond the limits. What the directory of the zip says
 * about sizes is not believed: unpacking stops where a limit is passed.
 * @throws ArchiveError when the zip itself cannot be read or the whole is beyond the limits
 */
export async function* readZip(
  source: Buffer | string,
  limits: InputLimits = INPUT_LIMITS,
): AsyncGenerator<ZipEntry> {
  const zip = await openZip(source);
  try {
    let files = 0;
    let total = 0;
    for await (const entry of entriesOf(zip)) {
      const path = decodeName(entry);
      if (path.endsWith('/')) continue;
      if (++files > limits.files)
        throw new ArchiveError(`The zip holds more than ${limits.files.toLocaleString('en')} files.`);
      const refused = whyRefused(entry, path, limits);
      if (refused) {
        yield { path, refused };
        continue;
      }
      const result = await unpack(zip, entry, limits, limits.totalBytes - total);
      if (typeof result === 'string') {
        if (result === TOTAL)
          throw new ArchiveError(`Unpacked, the zip is larger than ${megabytes(limits.totalBytes)}.`);
        yield { path, refused: result };
      } else {
        total += result.length;
        yield { path, content: result };
      }
    }
  } finally {
    zip.close();
  }
}

const TOTAL = 'total';

function openZip(source: Buffer | string): Promise<ZipFile> {
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
    else fromBuffer(source, options, done);
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
  return name.replaceAll('\\', '/').normalize('NFC');
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

function unpack(zip: ZipFile, entry: Entry, limits: InputLimits, left: number): Promise<Buffer | string> {
  return new Promise((resolve) => {
    zip.openReadStream(entry, (error: Error | null, stream?: Readable) => {
      if (error || !stream) {
        resolve(`it cannot be unpacked: ${error?.message ?? 'no content'}`);
        return;
      }
      const chunks: Buffer[] = [];
      let size = 0;
      const stop = (why: string) => {
        stream.destroy();
        resolve(why);
      };
      stream.on('data', (chunk: Buffer) => {
        size += chunk.length;
        if (size > limits.fileBytes) return stop(`it is larger than ${megabytes(limits.fileBytes)}`);
        if (size > left) return stop(TOTAL);
        if (size > RATIO_FREE_BYTES && size > entry.compressedSize * limits.ratio)
          return stop(`it unpacks to more than ${limits.ratio} times its size`);
        chunks.push(chunk);
      });
      stream.on('end', () => resolve(Buffer.concat(chunks)));
      stream.on('error', (broken: Error) => resolve(`it cannot be unpacked: ${broken.message}`));
    });
  });
}

function megabytes(bytes: number): string {
  return `${Math.round(bytes / 1024 / 1024).toLocaleString('en')} MB`;
}
