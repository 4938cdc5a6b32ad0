import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ConflictError, write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { dropUnused } from '#server/db/blobs';
import { closeDatabase, type Database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { measuredContents } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { testProject } from '#server/testing';
import type { ProjectFileSet } from './project-files';

let db: Database;
let project: string;
let files: ProjectFileSet;
beforeAll(async () => {
  const made = await testProject(new MemoryFileSet([['a.txt', Buffer.from('a')]]));
  ({ db, project, fileSet: files } = made);
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

const change = (changes: ReturnType<typeof write>[], summary = 'Changed') =>
  files.applyAs({ summary, changes, rewires: [], warnings: [] });

describe('a project', () => {
  it('reads whatever names a file gives: a NUL, half a character, a backslash that is meant', async () => {
    const text = Buffer.from(
      writeBoxPart({ id: 'ODD', boxes: [{ name: 'odd', size: [1, 1, 1] }] }),
    ).toString();
    const odd = text.replaceAll(`'odd'`, `'a\\X2\\0000\\X0\\b \\X2\\D83D\\X0\\ c\\\\u0000'`);
    expect(odd).not.toBe(text);
    await change([write('odd.stp', null, Buffer.from(odd))], 'Put odd\0 \ud83d in');
    const scanned = await loadProject(db, project);
    const [body] = scanned.files.get('odd.stp')!.scan.products.flatMap(({ bodies }) => bodies);
    expect(body!.name).toMatch(/^a.b . c\\u0000$/u);
    // And once more, as the database has it.
    expect((await loadProject(db, project)).files.size).toBe(2);
  });

  it('takes one of many changes that come at the same time, and tells all others of the conflict', async () => {
    const base = sha256(Buffer.from('a'));
    const results = await Promise.allSettled(
      Array.from({ length: 30 }, (_, n) => change([write('a.txt', base, Buffer.from(`by ${n}`))])),
    );
    const reasons = results.flatMap((result) => (result.status === 'rejected' ? [result.reason] : []));
    expect(reasons).toHaveLength(29);
    for (const reason of reasons) {
      expect(reason).toBeInstanceOf(ConflictError);
      expect(reason.message).toContain('a.txt has changed since');
    }
  });

  it('may hold more files than a statement has bindings', async () => {
    const hashes = Array.from({ length: 70_000 }, (_, n) => n.toString(16).padStart(64, '0'));
    await dropUnused(db, hashes);
    expect(await measuredContents(db, hashes)).toBe(0);
  });
});
