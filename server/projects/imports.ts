import { INPUT_LIMITS } from '#core/archive/limits';
import { type NewContent, newContent } from '#core/change/change-set';
import type { OnConflict } from '#core/handoff/unpack';
import { IMPORT, type ImportChoices } from '#core/import/operation';
import type { ImportOutline } from '#core/import/plan';
import { baseName, pathProblem } from '#core/links/paths';
import { planOperation } from '#core/operation';
import { Refusal, refusalOf } from '#core/refusal';
import { putBlobStream, putBlobs } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { announce } from '#server/events/events';
import { requestShapes } from '#server/jobs/shapes';
import { defectInWords } from '#server/log';
import { contextFor } from '#server/operations/context';
import { loadProject, scanKey, scansOf } from './project-scan';

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

/** Milliseconds between two words of how far an import is. */
const TELL_PAUSE = 150;

/** Lays out, scans and applies an import in one change. Runs in the job worker. */
export async function runImport(db: Database, importId: string): Promise<void> {
  const started = await db('imports')
    .where('id', importId)
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'running' }, ['project_id', 'user_id', 'on_conflict']);
  if (started.length === 0) return;
  const {
    project_id: project,
    user_id: user,
    on_conflict: onConflict,
  } = started[0] as { project_id: string; user_id: string; on_conflict: OnConflict };
  let told = 0;
  const progress = async (doing: string, done: number, total: number) => {
    if (performance.now() - told < TELL_PAUSE) return;
    told = performance.now();
    const still = await db('imports')
      .where({ id: importId, state: 'running' })
      .update({ doing, done, total });
    if (still === 0) throw new Cancelled();
    await announce(db, { project, type: 'import', import: importId, state: 'running', doing, done, total });
  };
  const finish = async (state: 'done' | 'failed', result: ImportResult) => {
    await db('imports')
      .where('id', importId)
      .update({ state, result: JSON.stringify(result), doing: '' });
    await announce(db, { project, type: 'import', import: importId, state, doing: '', done: 1, total: 1 });
  };
  const result: ImportResult = {
    added: [],
    replaced: [],
    unchanged: 0,
    conflicts: [],
    problems: [],
    changeSet: null,
  };
  try {
    const { context, files } = await contextFor({ db, project, user, report: progress });
    const choices: ImportChoices = { from: [importId], onConflict };
    const { change: plan, preview } = await planOperation(IMPORT, context, choices);
    Object.assign(result, preview);
    if (plan.changes.length > 0) {
      const contents = plan.changes.flatMap((change) => (change.action === 'write' ? [change] : []));
      await putBlobs(
        db,
        new Map(contents.flatMap(({ sha256, content }) => (content ? [[sha256, content] as const] : []))),
      );
      for (const change of contents) change.content = null;
      const scans = await scansOf(db, contents, (path, done, of) =>
        progress(`Reading ${baseName(path)}`, done, of),
      );
      for (const { path, sha256 } of contents) {
        const { error } = scans.get(scanKey(sha256, path))!;
        if (error) result.problems.push({ path, problem: `Cannot be read. ${error}` });
      }
      told = 0;
      await progress('Saving', plan.changes.length, plan.changes.length);
      result.changeSet = await files.applyAs(plan);
      await requestShapes(db, await loadProject(db, project));
    }
    await finish('done', result);
  } catch (error) {
    if (error instanceof Cancelled) return;
    const problem = refusalOf(error) ?? defectInWords(error, { kind: 'import', project, user });
    result.problems.unshift({ path: '', problem });
    await finish('failed', result);
  }
}

class Cancelled extends Error {}
