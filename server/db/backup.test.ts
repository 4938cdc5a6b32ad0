import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { MemoryFileSet } from '#core/project/change/memory';
import { testProject } from '#server/testing';
import { backUp, restore, verify } from '../../scripts/backup';
import { closeDatabase, connect, type Database } from './connection';
import { verifyStore } from './verify-store';

const folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-backup-'));
const file = path.join(folder, 'all.backup');
const second = `stonetray_restored_${process.pid}`;
const url = process.env.DATABASE_URL!;
const into = Object.assign(new URL(url), { pathname: `/${second}` }).toString();
let db: Database;
let project: string;
beforeAll(async () => {
  const large = Buffer.alloc(2_500_000, 'stone ');
  const files = new MemoryFileSet([
    ['a.txt', Buffer.from('a')],
    ['large.bin', large],
    ['empty.txt', Buffer.alloc(0)],
  ]);
  ({ db, project } = await testProject(files));
  await db.raw(`create database "${second}"`);
});
afterAll(async () => {
  await db.raw(`drop database if exists "${second}" with (force)`);
  await closeDatabase();
  rmSync(folder, { recursive: true });
});

it('a backup is restored into a second database, with every content whole, and never over another', async () => {
  vi.spyOn(console, 'log').mockImplementation(() => {});
  await backUp(url, file);
  await expect(backUp(url, file)).rejects.toThrow('exists already');
  await restore(file, into);
  const restored = connect(into);
  try {
    const before = await verifyStore(db);
    expect(await verifyStore(restored)).toEqual(before);
    expect(before.damaged).toEqual([]);
    const paths = (of: Database) => of('files').where('project_id', project).orderBy('path').pluck('path');
    expect(await paths(restored)).toEqual(await paths(db));
    await expect(restore(file, into)).rejects.toThrow('not empty');
    // One bit that fell over is found.
    const { sha256 } = await restored('files')
      .where({ project_id: project, path: 'large.bin' })
      .first('sha256');
    await restored('blob_chunks')
      .where({ sha256, number: 1 })
      .update({ data: restored.raw('set_byte(data, 17, 0)') });
    await expect(verify(into)).rejects.toThrow(sha256);
  } finally {
    await restored.destroy();
  }
});
