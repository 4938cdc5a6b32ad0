import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { MemoryFileSet } from '#core/project/change/memory';
import { type OutsideView, readOutside } from './outside-reader';

/** What an independent reader finds in one file of each of some sets, with the files that it refers to. */
export async function readSetsOutside(sets: readonly [MemoryFileSet, string][]): Promise<OutsideView[]> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-sets-'));
  try {
    const asked: string[] = [];
    for (const [n, [files, wanted]] of sets.entries()) {
      for (const { path: name } of await files.list()) {
        const place = path.join(folder, String(n), name);
        mkdirSync(path.dirname(place), { recursive: true });
        writeFileSync(place, await files.read(name));
      }
      asked.push(path.join(folder, String(n), wanted));
    }
    return readOutside(asked);
  } finally {
    rmSync(folder, { recursive: true });
  }
}
