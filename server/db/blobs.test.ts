import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { sha256 } from '#core/project/change/file-set';
import { getBlob, putBlob, putBlobs, streamBlob } from './blobs';
import { closeDatabase, type Database, database } from './connection';
import { migrate } from './migrate';

let db: Database;
beforeAll(async () => {
  db = database();
  await migrate(db);
});
afterAll(closeDatabase);

const some = (bytes: number) => {
  const content = randomBytes(bytes);
  return [sha256(content), content] as const;
};

describe('contents', () => {
  it('come back as they went in: small, large, of a whole number of pieces, empty', async () => {
    const contents = new Map([
      some(3),
      some(1024 * 1024),
      some(2_600_000),
      [sha256(Buffer.alloc(0)), Buffer.alloc(0)],
    ]);
    await putBlobs(db, contents);
    for (const [hash, content] of contents) {
      expect(Buffer.compare(await getBlob(db, hash), content)).toBe(0);
      const { stream, bytes } = await streamBlob(db, hash);
      expect(bytes).toBe(content.byteLength);
      expect(sha256(Buffer.from(await new Response(stream).arrayBuffer()))).toBe(hash);
    }
  });

  it('go in many at a time, each once, and tell how many are there', async () => {
    const contents = new Map(Array.from({ length: 250 }, (_, n) => some(n + 1)));
    const [first] = contents;
    await putBlob(db, first![1]);
    const told: number[] = [];
    await putBlobs(db, contents, async (done) => void told.push(done));
    expect(told).toEqual([100, 200, 250]);
    const rows = await db('blob_chunks').whereIn('sha256', [...contents.keys()]);
    expect(rows).toHaveLength(250);
  });

  it('may be brought by several at once', async () => {
    const contents = [...new Map(Array.from({ length: 60 }, () => some(500)))];
    await Promise.all(
      [contents, [...contents].reverse(), contents.slice(20)].map((own) => putBlobs(db, new Map(own))),
    );
    expect(
      await db('blobs').whereIn(
        'sha256',
        contents.map(([hash]) => hash),
      ),
    ).toHaveLength(60);
  });

  it('that are not there are an error', async () => {
    await expect(getBlob(db, 'ab'.repeat(32))).rejects.toThrow(/is not stored/);
  });
});
