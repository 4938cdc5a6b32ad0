import { randomBytes } from 'node:crypto';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import { INPUT_LIMITS } from '#core/files/archive/limits';
import { ArchiveError } from '#core/files/archive/read-zip';
import { sha256 } from '#core/project/change/file-set';
import { putBlobStream } from '#server/db/arriving';
import { getBlob, putBlob } from '#server/db/blobs';
import { closeDatabase, type Database, database } from '#server/db/connection';
import { migrate } from '#server/db/migrate';
import { storedBytes } from '#server/db/stored-bytes';
import { unpackStored } from './unpack-stored';

let db: Database;
beforeAll(async () => {
  db = database();
  await migrate(db);
});
afterAll(closeDatabase);

async function zip(entries: [string, Buffer][]): Promise<Buffer> {
  const file = new ZipFile();
  for (const [path, content] of entries) file.addBuffer(content, path);
  file.end();
  return buffer(file.outputStream as Readable);
}

async function* pieces(content: Buffer, size: number): AsyncGenerator<Buffer> {
  for (let at = 0; at < content.length; at += size) yield content.subarray(at, at + size);
}

describe('a stored content', () => {
  it('is read here and there, whatever pieces it lies in', async () => {
    const content = randomBytes(5_000_000);
    const { sha256: hash } = await putBlobStream(db, pieces(content, 70_001));
    const { bytes, stream } = await storedBytes(db, hash);
    expect(bytes).toBe(content.length);
    for (const [from, to] of [
      [0, 1],
      [0, bytes],
      [bytes - 22, bytes],
      [1_050_014, 1_050_016],
      [999_999, 3_333_333],
      [4_000_000, 4_000_000],
    ] as const)
      expect(
        Buffer.compare(await buffer(stream(from, to)), content.subarray(from, to)),
        `${from}-${to}`,
      ).toBe(0);
    await expect(storedBytes(db, 'ab'.repeat(32))).rejects.toThrow('is not stored');
  });
});

describe('a stored zip', () => {
  it('is unpacked into stored contents, small ones and large ones', async () => {
    const contents: [string, Buffer][] = [
      ['small.stp', Buffer.from('small')],
      ['empty.txt', Buffer.alloc(0)],
      ['large.bin', randomBytes(3_300_000)],
      ...Array.from({ length: 300 }, (_, n): [string, Buffer] => [`in/${n}.txt`, Buffer.from(`number ${n}`)]),
    ];
    const entries = await unpackStored(db, await putBlob(db, await zip(contents)));
    expect(entries.map(({ path }) => path)).toEqual(contents.map(([path]) => path));
    for (const [n, entry] of entries.entries()) {
      const content = contents[n]![1];
      expect(entry).toEqual({
        path: contents[n]![0],
        sha256: sha256(content),
        bytes: content.length,
        content: null,
      });
      expect(Buffer.compare(await getBlob(db, sha256(content)), content)).toBe(0);
    }
  });

  it('keeps nothing of an entry that is a bomb, and takes the rest', async () => {
    const bomb = await putBlob(
      db,
      await zip([
        ['zeros.stp', Buffer.alloc(60_000_000)],
        ['fine.stp', Buffer.from('fine')],
      ]),
    );
    const before = await db('blobs').count('* as count').first();
    expect(await unpackStored(db, bomb)).toEqual([
      { path: 'zeros.stp', refused: expect.stringContaining('200 times its size') },
      expect.objectContaining({ path: 'fine.stp', bytes: 4 }),
    ]);
    const after = await db('blobs').count('* as count').first();
    expect(Number(after!.count) - Number(before!.count)).toBeLessThanOrEqual(1);
    await expect(unpackStored(db, bomb, { ...INPUT_LIMITS, files: 1 })).rejects.toThrow(ArchiveError);
  });
});
