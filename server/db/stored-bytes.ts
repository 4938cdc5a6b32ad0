import { Readable } from 'node:stream';
import { LRUCache } from 'lru-cache';
import type { Database } from './connection';

/** Pieces that are held: those of the place that is read, and of a zip's directory at its end. */
const HELD = 4;

/**
 * A content that is read here and there without ever being in memory as a whole: a few of its pieces are.
 * @throws Error when the content is not there
 */
export async function storedBytes(
  db: Database,
  sha256: string,
): Promise<{ bytes: number; stream(from: number, to: number): Readable }> {
  const pieces: { number: number; length: number }[] = await db('blob_chunks')
    .where('sha256', sha256)
    .orderBy('number')
    .select('number', db.raw('length(data) as length'));
  if (!(await db('blobs').where('sha256', sha256).first('sha256')))
    throw new Error(`The content ${sha256.slice(0, 12)} is not stored.`);
  let bytes = 0;
  const starts = pieces.map(({ length }) => {
    bytes += length;
    return bytes - length;
  });
  const held = new LRUCache<number, Buffer>({
    max: HELD,
    fetchMethod: async (number) => (await db('blob_chunks').where({ sha256, number }).first('data')).data,
  });
  async function* read(from: number, to: number): AsyncGenerator<Buffer> {
    let n = starts.findLastIndex((start) => start <= from);
    for (let at = from; at < to; n++) {
      const { number, length } = pieces[n]!;
      const data = (await held.fetch(number))!;
      const until = Math.min(to, starts[n]! + length);
      yield data.subarray(at - starts[n]!, until - starts[n]!);
      at = until;
    }
  }
  return { bytes, stream: (from, to) => Readable.from(read(from, to), { objectMode: false }) };
}
