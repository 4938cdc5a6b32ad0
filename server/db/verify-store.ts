import { arrived } from './arriving';
import { measureBlob } from './blobs';
import type { Database } from './connection';

/** Every content of a database, held against the hash that it is stored under. */
export interface StoreCheck {
  contents: number;
  bytes: number;
  /** Hashes of contents that are not whole any more. */
  damaged: string[];
}

/** So many contents are named at a time. */
const BATCH = 1000;

/** Reads every content, chunk by chunk, and hashes it. Memory holds one chunk, whatever the size of the store. */
export async function verifyStore(
  db: Database,
  onProgress: (done: number, of: number) => void = () => {},
): Promise<StoreCheck> {
  const [{ count }] = (await arrived(db('blobs')).count('* as count')) as [{ count: string }];
  const check: StoreCheck = { contents: 0, bytes: 0, damaged: [] };
  for (let after = ''; ; ) {
    const rows: { sha256: string; bytes: string }[] = await arrived(db('blobs'))
      .where('sha256', '>', after)
      .orderBy('sha256')
      .limit(BATCH)
      .select('sha256', 'bytes');
    if (rows.length === 0) return check;
    for (const { sha256, bytes } of rows) {
      const found = await measureBlob(db, sha256);
      check.contents++;
      check.bytes += found.bytes;
      if (found.bytes !== Number(bytes) || found.sha256 !== sha256) check.damaged.push(sha256);
      onProgress(check.contents, Number(count));
    }
    after = rows.at(-1)!.sha256;
  }
}
