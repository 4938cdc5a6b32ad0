import { INPUT_LIMITS, type InputLimits } from '#core/files/archive/limits';
import { type NewContent, newContent } from '#core/project/change/change-set';
import { type UnpackedEntry, unpack } from '#core/project/change/unpack';
import { putBlobStream } from '#server/db/arriving';
import { contentsByHash, putBlobs } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { storedBytes } from '#server/db/stored-bytes';

/** Bytes of an entry that is kept with others; a larger one is stored as it comes. Bytes that wait together. */
const [SMALL, TOGETHER] = [1024 * 1024, 8 * 1024 * 1024];

/**
 * Unpacks a zip that is stored, and stores what comes out of it: memory holds a few megabytes, however large either is.
 * @returns the entries, with their contents stored; nothing refers to them yet
 * @throws ArchiveError
 */
export async function unpackStored(
  db: Database,
  sha256: string,
  limits: InputLimits = INPUT_LIMITS,
): Promise<UnpackedEntry[]> {
  let waiting: NewContent[] = [];
  let size = 0;
  const store = async () => {
    await putBlobs(db, contentsByHash(waiting));
    waiting = [];
    size = 0;
  };
  const keep = async (content: AsyncIterable<Buffer>): Promise<NewContent> => {
    const pieces = content[Symbol.asyncIterator]();
    const first: Buffer[] = [];
    let length = 0;
    for (let next = await pieces.next(); !next.done; next = await pieces.next()) {
      first.push(next.value);
      length += next.value.length;
      if (length <= SMALL) continue;
      const stored = await putBlobStream(db, resumed(first, pieces));
      return { ...stored, content: null };
    }
    const small = newContent(Buffer.concat(first));
    waiting.push(small);
    size += length;
    if (size > TOGETHER) await store();
    return { ...small, content: null };
  };
  const entries = await unpack(await storedBytes(db, sha256), keep, limits);
  await store();
  return entries;
}

/** Pieces that were read, and the rest. */
async function* resumed(first: Buffer[], rest: AsyncIterator<Buffer>): AsyncGenerator<Buffer> {
  yield* first;
  yield* { [Symbol.asyncIterator]: () => rest };
}
