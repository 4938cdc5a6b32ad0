import { createHash, randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { CHUNK, keepALittle, type StoredContent } from './blobs';
import type { Database } from './connection';

/** What a content is called while it arrives: when that began stands in it. */
const ARRIVING = 'arriving-';
/** Hours after which a content that has not arrived is given up: whoever sent it was killed. */
const GIVEN_UP_HOURS = 24;

/** Begins to store a content of which the hash is not known before it is whole. @returns what it is called until then */
export async function beginArriving(db: Database): Promise<string> {
  const name = `${ARRIVING}${Date.now()}-${randomUUID()}`;
  await db('blobs').insert({ sha256: name, bytes: 0 });
  return name;
}

/**
 * Gives a content that is whole its hash; where it was there before, that one stays.
 * @param within in whose transaction it happens
 */
export async function endArriving(
  within: Knex.Transaction,
  name: string,
  { sha256, bytes }: StoredContent,
): Promise<void> {
  const [created] = await within('blobs')
    .insert({ sha256, bytes })
    .onConflict('sha256')
    .ignore()
    .returning('sha256');
  if (created) await within('blob_chunks').where('sha256', name).update({ sha256 });
  else await keepALittle(within, [sha256]);
  await within('blobs').where('sha256', name).delete();
}

/**
 * Stores a stream as it arrives, never holding more than one piece, nor a connection to the database while it waits for the next one. A
 * stream that breaks off leaves nothing.
 */
export async function putBlobStream(db: Database, stream: AsyncIterable<Uint8Array>): Promise<StoredContent> {
  const name = await beginArriving(db);
  try {
    const content = await arrive(db, name, stream);
    await db.transaction((trx) => endArriving(trx, name, content));
    return content;
  } catch (error) {
    await db('blobs')
      .where('sha256', name)
      .delete()
      .catch(() => {});
    throw error;
  }
}

async function arrive(db: Database, name: string, stream: AsyncIterable<Uint8Array>): Promise<StoredContent> {
  const hash = createHash('sha256');
  let bytes = 0;
  let number = 0;
  let pending: Uint8Array[] = [];
  let size = 0;
  const flush = async () => {
    await db('blob_chunks').insert({ sha256: name, number: number++, data: Buffer.concat(pending) });
    pending = [];
    size = 0;
  };
  for await (const piece of stream) {
    bytes += piece.byteLength;
    hash.update(piece);
    pending.push(piece);
    size += piece.byteLength;
    if (size >= CHUNK) await flush();
  }
  if (size > 0) await flush();
  return { sha256: hash.digest('hex'), bytes };
}

/** Lets go of contents that will not arrive any more. @returns how many */
export async function dropAbandoned(db: Database, hours = GIVEN_UP_HOURS): Promise<number> {
  return db('blobs')
    .where('sha256', 'like', `${ARRIVING}%`)
    .whereRaw(`split_part(sha256, '-', 2)::bigint < ?`, [Date.now() - hours * 3_600_000])
    .delete();
}

/** Contents that have arrived. */
export function arrived(query: Knex.QueryBuilder): Knex.QueryBuilder {
  return query.whereNot('sha256', 'like', `${ARRIVING}%`);
}
