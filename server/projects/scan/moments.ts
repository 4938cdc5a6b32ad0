import { z } from 'zod';
import type { FileChange } from '#core/project/change/change-set';
import type { ScannedFile } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { Database } from '#server/db/connection';
import { scanKey, scansOf } from './project-scan';

/**
 * The files of a project as they lay before a change: every change since is taken back, the latest first. Linear in those changes.
 * @throws Refusal when there is no such change
 */
export async function filesBefore(
  db: Database,
  projectId: string,
  change: string,
): Promise<ReadonlyMap<string, ScannedFile>> {
  const isId = z.uuid().safeParse(change).success;
  const meant = isId && (await db('change_sets').where({ project_id: projectId, id: change }).first('time'));
  if (!meant) throw new Refusal('There is no such change in this project. Choose one on the page Activity.');
  const since: { changes: FileChange[] }[] = await db('change_sets')
    .where('project_id', projectId)
    .where('time', '>=', meant.time)
    .orderBy('time', 'desc')
    .select('changes');
  const now: { path: string; sha256: string }[] = await db('files')
    .where('project_id', projectId)
    .select('path', 'sha256');
  const lay = new Map(now.map(({ path, sha256 }) => [path, sha256]));
  for (const { changes } of since)
    for (const change of [...changes].reverse()) {
      lay.delete(change.action === 'move' ? change.to : change.path);
      if (change.base !== null) lay.set(change.path, change.base);
    }
  const sizes: { sha256: string; bytes: string }[] = await db('blobs')
    .whereRaw('sha256 = any(?)', [[...lay.values()]])
    .select('sha256', 'bytes');
  const bytesOf = new Map(sizes.map(({ sha256, bytes }) => [sha256, Number(bytes)]));
  const entries = [...lay].map(([path, sha256]) => ({ path, sha256, bytes: bytesOf.get(sha256) ?? 0 }));
  const scans = await scansOf(db, entries);
  return new Map(
    entries.map((entry) => [entry.path, { ...entry, scan: scans.get(scanKey(entry.sha256, entry.path))! }]),
  );
}
