import { INPUT_LIMITS } from '#core/archive/limits';
import { type NewContent, newContent } from '#core/change/change-set';
import type { OnConflict } from '#core/handoff/unpack';
import type { ImportOutline } from '#core/import/plan';
import { pathProblem } from '#core/links/paths';
import { Refusal } from '#core/refusal';
import { putBlobStream, putBlobs } from '#server/db/blobs';
import type { Database } from '#server/db/connection';

/** What an import did, for the person who started it. */
export interface ImportResult extends ImportOutline {
  changeSet: string | null;
}

export interface ImportRow {
  id: string;
  state: 'uploading' | 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  doing: string;
  done: number;
  total: number;
  result: ImportResult | null;
}

export async function startImport(
  db: Database,
  projectId: string,
  userId: string,
  onConflict: OnConflict,
): Promise<string> {
  const [{ id }] = await db('imports')
    .insert({ project_id: projectId, user_id: userId, on_conflict: onConflict })
    .returning('id');
  return id as string;
}

/** Takes one uploaded file, streamed. @throws Refusal for a path or size that cannot be taken */
export async function receiveFile(
  db: Database,
  projectId: string,
  importId: string,
  path: string,
  stream: AsyncIterable<Uint8Array>,
): Promise<void> {
  const clean = cleanPath(path);
  const { bytes: before } = await roomIn(db, projectId, importId, 1);
  const { sha256, bytes } = await putBlobStream(
    db,
    stream,
    Math.min(INPUT_LIMITS.fileBytes, INPUT_LIMITS.totalBytes - before),
  );
  await remember(db, [{ import_id: importId, path: clean, sha256, bytes }]);
}

/** A file that came together with others. */
export interface SmallFile {
  path: string;
  content: Uint8Array;
}

/**
 * Takes many small files at once.
 * @returns why some were left out, in words
 * @throws Refusal when there are too many of them
 */
export async function receiveFiles(
  db: Database,
  projectId: string,
  importId: string,
  files: readonly SmallFile[],
): Promise<string[]> {
  const size = files.reduce((sum, { content }) => sum + content.byteLength, 0);
  const { bytes: before } = await roomIn(db, projectId, importId, files.length);
  if (before + size > INPUT_LIMITS.totalBytes) throw new Refusal('The files are too large together.');
  const refused: string[] = [];
  const taken = new Map<string, NewContent>();
  for (const { path, content } of files) {
    try {
      taken.set(cleanPath(path), newContent(content));
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      refused.push(error.message);
    }
  }
  await putBlobs(db, new Map([...taken.values()].map(({ sha256, content }) => [sha256, content!] as const)));
  await remember(
    db,
    [...taken].map(([path, { sha256, bytes }]) => ({ import_id: importId, path, sha256, bytes })),
  );
  return refused;
}

function cleanPath(path: string): string {
  const clean = path.replaceAll('\\', '/').normalize('NFC');
  const problem = pathProblem(clean);
  if (problem) throw new Refusal(`${path} was left out: ${problem}.`);
  return clean;
}

/** What an import holds so far. @throws Refusal when it is not open, or would hold too many files */
async function roomIn(
  db: Database,
  projectId: string,
  importId: string,
  more: number,
): Promise<{ bytes: number }> {
  const row = await db('imports')
    .where({ id: importId, project_id: projectId, state: 'uploading' })
    .first('id');
  if (!row) throw new Refusal('This import is no longer open. Start it again.');
  const [{ count, sum }] = (await db('import_files')
    .where('import_id', importId)
    .count('* as count')
    .sum('bytes as sum')) as [{ count: string; sum: string | null }];
  if (Number(count) + more > INPUT_LIMITS.files)
    throw new Refusal(`One import takes ${INPUT_LIMITS.files.toLocaleString('en')} files at most.`);
  return { bytes: Number(sum ?? 0) };
}

async function remember(
  db: Database,
  rows: readonly { import_id: string; path: string; sha256: string; bytes: number }[],
): Promise<void> {
  if (rows.length === 0) return;
  await db('import_files').insert(rows).onConflict(['import_id', 'path']).merge();
}

/** Cancels an import that has not been applied yet. @returns whether it was in time */
export async function cancelImport(db: Database, projectId: string, importId: string): Promise<boolean> {
  const cancelled = await db('imports')
    .where({ id: importId, project_id: projectId })
    .whereIn('state', ['uploading', 'waiting', 'running'])
    .update({ state: 'cancelled' });
  return cancelled > 0;
}
