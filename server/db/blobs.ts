import { createHash } from 'node:crypto';
import { ReadableStream as WebStream } from 'node:stream/web';
import { groupBy } from '#core/multimap';
import type { NewContent } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import type { Database } from '#server/db/connection';

/** A content as it is known once it is whole. */
export interface StoredContent {
  sha256: string;
  bytes: number;
}

/** Bytes of a piece. */
export const CHUNK = 1024 * 1024;

/** So many contents go in with one statement, unless they are large. */
const BATCH = 100;

/** Stores a content once, whoever brings it. @returns its hash */
export async function putBlob(db: Database, content: Uint8Array): Promise<string> {
  const hash = sha256(content);
  await putBlobs(db, new Map([[hash, content]]));
  return hash;
}

/**
 * Stores contents by their hashes, each once, whoever brings them: many small ones together.
 * @param onStored told after each batch how many are there
 */
export async function putBlobs(
  db: Database,
  contents: ReadonlyMap<string, Uint8Array>,
  onStored: (done: number) => Promise<void> = async () => {},
): Promise<void> {
  let done = 0;
  for (const batch of batches([...contents])) {
    await db.transaction(async (trx) => {
      const created: { sha256: string }[] = await trx('blobs')
        .insert(batch.map(([hash, content]) => ({ sha256: hash, bytes: content.byteLength })))
        .onConflict('sha256')
        .ignore()
        .returning('sha256');
      const missing = new Set(created.map(({ sha256 }) => sha256));
      await keepALittle(
        trx,
        batch.flatMap(([hash]) => (missing.has(hash) ? [] : [hash])),
      );
      const small = batch.filter(([hash, content]) => missing.has(hash) && content.byteLength <= CHUNK);
      const chunk = (hash: string, number: number, content: Uint8Array) => ({
        sha256: hash,
        number,
        data: Buffer.from(content.subarray(number * CHUNK, (number + 1) * CHUNK)),
      });
      const filled = small.filter(([, content]) => content.byteLength > 0);
      if (filled.length > 0)
        await trx('blob_chunks').insert(filled.map(([hash, content]) => chunk(hash, 0, content)));
      for (const [hash, content] of batch)
        if (missing.has(hash) && content.byteLength > CHUNK)
          for (let number = 0; number * CHUNK < content.byteLength; number++)
            await trx('blob_chunks').insert(chunk(hash, number, content));
    });
    done += batch.length;
    await onStored(done);
  }
}

/** Those contents that have their bytes with them, by their hashes. */
export function contentsByHash(contents: readonly NewContent[]): Map<string, Uint8Array> {
  return new Map(contents.flatMap(({ sha256, content }) => (content ? [[sha256, content] as const] : [])));
}

/**
 * Somebody is about to refer to contents that were stored before: they are not collected meanwhile.
 * @returns whether all of them are there
 */
export async function holdBlobs(db: Database, hashes: readonly string[]): Promise<boolean> {
  const wanted = [...new Set(hashes)];
  await keepALittle(db, wanted);
  const there = await db('blobs').whereRaw('sha256 = any(?)', [wanted]).count('* as count').first();
  return Number(there!.count) === wanted.length;
}

/** Contents that are there for long count as new: the collector leaves them alone for a while. */
export async function keepALittle(db: Database, hashes: readonly string[]): Promise<void> {
  if (hashes.length === 0) return;
  await db('blobs')
    .whereRaw('sha256 = any(?)', [[...hashes]])
    .where('time', '<', db.raw(`now() - interval '1 hour'`))
    .update({ time: db.fn.now() });
}

/** Contents in the order of their hashes, which keeps two who store the same ones from waiting for each other. */
function batches(contents: [string, Uint8Array][]): [string, Uint8Array][][] {
  const sorted = contents.sort(([a], [b]) => (a < b ? -1 : 1));
  const found: [string, Uint8Array][][] = [];
  let size = 0;
  for (const entry of sorted) {
    const last = found.at(-1);
    size += entry[1].byteLength;
    if (last && last.length < BATCH && size <= 4 * CHUNK) last.push(entry);
    else {
      found.push([entry]);
      size = entry[1].byteLength;
    }
  }
  return found;
}

/** Lets contents go that nothing refers to any more. */
export async function dropUnused(db: Database, hashes: readonly string[]): Promise<void> {
  if (hashes.length === 0) return;
  await unreferenced(db)
    .whereRaw('sha256 = any(?)', [[...hashes]])
    .delete();
}

/** Contents that nothing refers to: here stands everything that can. */
export function unreferenced(db: Database) {
  return db('blobs')
    .whereNotExists(db('versions').whereRaw('versions.sha256 = blobs.sha256'))
    .whereNotExists(db('files').whereRaw('files.sha256 = blobs.sha256'))
    .whereNotExists(db('upload_files').whereRaw('upload_files.sha256 = blobs.sha256'))
    .whereNotExists(db('task_blobs').whereRaw('task_blobs.sha256 = blobs.sha256'))
    .whereNotExists(db('shapes').whereRaw('shapes.gltf = blobs.sha256'));
}

/** @throws Error when the content is not there */
export async function getBlob(db: Database, hash: string): Promise<Buffer> {
  return (await getBlobs(db, [hash])).get(hash)!;
}

/** Contents that fit into memory together, by their hashes. @throws Error when one is not there */
export async function getBlobs(db: Database, hashes: readonly string[]): Promise<Map<string, Buffer>> {
  const blobs: { sha256: string; bytes: string }[] = await db('blobs')
    .whereRaw('sha256 = any(?)', [[...hashes]])
    .select('sha256', 'bytes');
  const sizes = new Map(blobs.map(({ sha256, bytes }) => [sha256, Number(bytes)]));
  const rows: { sha256: string; data: Buffer }[] = await db('blob_chunks')
    .whereRaw('sha256 = any(?)', [[...hashes]])
    .orderBy(['sha256', 'number'])
    .select('sha256', 'data');
  const chunks = groupBy(rows, ({ sha256 }) => sha256);
  return new Map(
    hashes.map((hash) => {
      const size = sizes.get(hash);
      if (size === undefined) throw new Error(`The content ${hash.slice(0, 12)} is not stored.`);
      const data = (chunks.get(hash) ?? []).map((chunk) => chunk.data);
      return [hash, Buffer.concat(data, size)];
    }),
  );
}

/** The pieces of a content in their order: memory holds one. */
export async function* piecesOf(db: Database, hash: string): AsyncGenerator<Uint8Array> {
  for (let number = 0; ; number++) {
    const row: { data: Buffer } | undefined = await db('blob_chunks')
      .where({ sha256: hash, number })
      .first('data');
    if (!row) return;
    yield new Uint8Array(row.data);
  }
}

/** Hash and size of the pieces that are stored under a name, whether or not it is theirs. */
export async function measureBlob(db: Database, name: string): Promise<StoredContent> {
  const hash = createHash('sha256');
  let bytes = 0;
  for await (const piece of piecesOf(db, name)) {
    hash.update(piece);
    bytes += piece.byteLength;
  }
  return { sha256: hash.digest('hex'), bytes };
}

/** A content chunk by chunk, for downloads: memory holds one chunk. @throws Error when the content is not there */
export async function streamBlob(
  db: Database,
  hash: string,
): Promise<{ stream: ReadableStream; bytes: number }> {
  const blob = await db('blobs').where('sha256', hash).first('bytes');
  if (!blob) throw new Error(`The content ${hash.slice(0, 12)} is not stored.`);
  const stream = WebStream.from(piecesOf(db, hash)) as ReadableStream;
  return { stream, bytes: Number(blob.bytes) };
}

/** A content as the body of an answer, sent as it is read. @throws Error when the content is not there */
export async function answerWithBlob(
  db: Database,
  hash: string,
  headers: { [name: string]: string },
): Promise<Response> {
  const { stream, bytes } = await streamBlob(db, hash);
  return new Response(stream, { headers: { ...headers, 'Content-Length': String(bytes) } });
}
