import { createHash, randomUUID } from 'node:crypto';
import { sha256 } from '#core/change/file-set';
import type { Database } from '#server/db/connection';

const CHUNK = 1024 * 1024;

/** Content beyond what may be stored. */
export class TooLargeError extends Error {}

/** Stores a content once, whoever brings it. @returns its hash */
export async function putBlob(db: Database, content: Uint8Array): Promise<string> {
  const hash = sha256(content);
  if (await db('blobs').where('sha256', hash).first('sha256')) return hash;
  await db.transaction(async (trx) => {
    const [created] = await trx('blobs')
      .insert({ sha256: hash, bytes: content.byteLength })
      .onConflict('sha256')
      .ignore()
      .returning('sha256');
    if (!created) return;
    for (let number = 0, at = 0; at < content.byteLength; number++, at += CHUNK) {
      await trx('blob_chunks').insert({
        sha256: hash,
        number,
        data: Buffer.from(content.subarray(at, at + CHUNK)),
      });
    }
  });
  return hash;
}

/**
 * Stores a stream as it arrives, never holding more than one chunk. The hash is only known at the end, so chunks wait
 * under a provisional name; a stream that breaks off leaves nothing.
 * @throws TooLargeError past `limit` bytes
 */
export async function putBlobStream(
  db: Database,
  stream: AsyncIterable<Uint8Array>,
  limit: number,
): Promise<{ sha256: string; bytes: number }> {
  return db.transaction(async (trx) => {
    const provisional = `arriving-${randomUUID()}`;
    await trx('blobs').insert({ sha256: provisional, bytes: 0 });
    const hash = createHash('sha256');
    let bytes = 0;
    let number = 0;
    let pending: Uint8Array[] = [];
    let size = 0;
    const flush = async () => {
      await trx('blob_chunks').insert({
        sha256: provisional,
        number: number++,
        data: Buffer.concat(pending),
      });
      pending = [];
      size = 0;
    };
    for await (const piece of stream) {
      bytes += piece.byteLength;
      if (bytes > limit)
        throw new TooLargeError(`The file is larger than ${Math.round(limit / 1024 / 1024)} MB.`);
      hash.update(piece);
      pending.push(piece);
      size += piece.byteLength;
      if (size >= CHUNK) await flush();
    }
    if (size > 0) await flush();
    const digest = hash.digest('hex');
    const [created] = await trx('blobs')
      .insert({ sha256: digest, bytes })
      .onConflict('sha256')
      .ignore()
      .returning('sha256');
    if (created) await trx('blob_chunks').where('sha256', provisional).update({ sha256: digest });
    await trx('blobs').where('sha256', provisional).delete();
    return { sha256: digest, bytes };
  });
}

/** Lets contents go that nothing refers to any more. */
export async function dropUnused(db: Database, hashes: readonly string[]): Promise<void> {
  if (hashes.length === 0) return;
  await db('blobs')
    .whereIn('sha256', hashes)
    .whereNotExists(db('versions').whereRaw('versions.sha256 = blobs.sha256'))
    .whereNotExists(db('import_files').whereRaw('import_files.sha256 = blobs.sha256'))
    .whereNotExists(db('task_blobs').whereRaw('task_blobs.sha256 = blobs.sha256'))
    .whereNotExists(db('shapes').whereRaw('shapes.gltf = blobs.sha256'))
    .delete();
}

/** @throws Error when the content is not there */
export async function getBlob(db: Database, hash: string): Promise<Buffer> {
  const blob = await db('blobs').where('sha256', hash).first('bytes');
  if (!blob) throw new Error(`The content ${hash.slice(0, 12)} is not stored.`);
  const rows: { data: Buffer }[] = await db('blob_chunks')
    .where('sha256', hash)
    .orderBy('number')
    .select('data');
  return Buffer.concat(
    rows.map(({ data }) => data),
    Number(blob.bytes),
  );
}

/** A content chunk by chunk, for downloads: memory holds one chunk. @throws Error when the content is not there */
export async function streamBlob(
  db: Database,
  hash: string,
): Promise<{ stream: ReadableStream; bytes: number }> {
  const blob = await db('blobs').where('sha256', hash).first('bytes');
  if (!blob) throw new Error(`The content ${hash.slice(0, 12)} is not stored.`);
  let number = 0;
  const stream = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const row = await db('blob_chunks').where({ sha256: hash, number: number++ }).first('data');
      if (row) controller.enqueue(new Uint8Array(row.data));
      else controller.close();
    },
  });
  return { stream, bytes: Number(blob.bytes) };
}
