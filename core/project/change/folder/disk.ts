import { createHash } from 'node:crypto';
import { closeSync, constants, createReadStream, fstatSync, openSync, readSync, type Stats } from 'node:fs';
import { type FileHandle, lstat, open, readFile } from 'node:fs/promises';

/** Bytes up to which a file is read at once. */
const SMALL = 256 * 1024;
/** A link is never followed, and what waits for a writer is no file. */
const PLAIN = constants.O_RDONLY | constants.O_NOFOLLOW | constants.O_NONBLOCK;
const NOTHING_THERE = ['ENOENT', 'ENOTDIR', 'ELOOP', 'ENXIO'];

/** Code of what the disk refused, such as `ENOSPC`; undefined for any other error. */
export function diskCode(error: unknown): string | undefined {
  const code = (error as NodeJS.ErrnoException | null)?.code;
  return typeof code === 'string' && /^E[A-Z0-9]+$/.test(code) ? code : undefined;
}

const REASONS: { readonly [code: string]: string } = {
  ENOSPC: 'the disk is full',
  EDQUOT: 'the share of the disk that may be used is full',
  EACCES: 'it may not be written',
  EPERM: 'it may not be written',
  EROFS: 'the disk can only be read',
  EBUSY: 'another program holds it',
  ETXTBSY: 'another program holds it',
  EISDIR: 'a folder stands in its place',
  ENOTDIR: 'a file stands where its folder would be',
  EEXIST: 'a file stands where its folder would be',
  ENAMETOOLONG: 'its name is too long for this disk',
  EIO: 'the disk cannot be read or written',
  EMFILE: 'too many files are open',
};

/** Why the disk refused something, in words. */
export function diskReason(error: unknown): string {
  const code = diskCode(error);
  return (code && REASONS[code]) ?? (error instanceof Error ? error.message : String(error));
}

/** Whether something is there, whatever it is; a link is not followed. */
export async function infoOf(file: string): Promise<Stats | undefined> {
  return lstat(file).catch((error) => {
    if (NOTHING_THERE.includes(diskCode(error) ?? '')) return undefined;
    throw error;
  });
}

/** Writes a file that must not be there yet, down to the disk. */
export async function writeFlushed(file: string, content: Uint8Array): Promise<void> {
  const handle: FileHandle = await open(file, 'wx');
  try {
    await handle.writeFile(content);
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** A rename is safe on disk only once its folder is. */
export async function flushFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r');
  await handle.sync().finally(() => handle.close());
}

export async function hashFile(file: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(file, { flags: PLAIN as unknown as string }))
    hash.update(chunk as Buffer);
  return hash.digest('hex');
}

/** The bytes of an ordinary file; undefined where there is none. */
export async function readPlain(full: string): Promise<Uint8Array | undefined> {
  const small = readSmall(full);
  return small === null ? readFile(full) : small;
}

/**
 * Reads a small file at once: to hand it to the disk and to wait for it costs several times what reading it does.
 * @returns null for a file that is not small; undefined where there is no file, or something else
 */
function readSmall(full: string): Uint8Array | null | undefined {
  let file: number;
  try {
    file = openSync(full, PLAIN);
  } catch (error) {
    if (NOTHING_THERE.includes(diskCode(error) ?? '')) return undefined;
    throw error;
  }
  try {
    const info = fstatSync(file);
    if (!info.isFile()) return undefined;
    if (info.size > SMALL) return null;
    const content = Buffer.allocUnsafeSlow(info.size);
    let length = 0;
    while (length < info.size) {
      const read = readSync(file, content, length, info.size - length, length);
      if (read === 0) break;
      length += read;
    }
    return content.subarray(0, length);
  } finally {
    closeSync(file);
  }
}
