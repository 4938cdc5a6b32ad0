import { INPUT_LIMITS } from '#core/archive/limits';
import { readZip } from '#core/archive/read-zip';
import { type ChangeSet, type NewContent, newContent } from '#core/change/change-set';
import { Draft, listed } from '#core/change/draft';
import { isDamaged, openPackage } from '#core/handoff/open-package';
import { type OnConflict, planUnpack } from '#core/handoff/unpack';
import { baseName, commonTopFolder, extensionOf, folderOf, joinPath, pathProblem } from '#core/links/paths';
import { Refusal } from '#core/refusal';
import { getBlob, putBlobStream, putBlobs } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { announce } from '#server/events/events';
import { requestShapes } from '#server/jobs/shapes';
import { ProjectFileSet } from './project-files';
import { loadProject, scanKey, scansOf } from './project-scan';

/** What an import did, for the person who started it. */
export interface ImportResult {
  added: string[];
  replaced: string[];
  unchanged: number;
  conflicts: { path: string; outcome: string }[];
  /** Files that were left out or are not sound, and why. */
  problems: { path: string; problem: string }[];
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

/** What systems leave in folders and nobody means to import. */
const LITTER = /(^|\/)(\.DS_Store|Thumbs\.db|desktop\.ini|__MACOSX\/.*|\.stonetray\/.*|\.git\/.*|~\$.*)$/i;

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
    const files = new ProjectFileSet(db, project, user);
    const uploads: { path: string; sha256: string; bytes: string }[] = await db('import_files')
      .where('import_id', importId)
      .orderBy('path');
    const plan = await layOut(db, files, uploads, onConflict, result, progress);
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
    result.problems.unshift({ path: '', problem: error instanceof Error ? error.message : String(error) });
    await finish('failed', result);
  }
}

class Cancelled extends Error {}

/** Turns uploads into one ChangeSet: archives unpacked, packages verified, names that are taken dealt with. */
async function layOut(
  db: Database,
  files: ProjectFileSet,
  uploads: { path: string; sha256: string; bytes: string }[],
  onConflict: OnConflict,
  result: ImportResult,
  progress: (doing: string, done: number, total: number) => Promise<void>,
): Promise<ChangeSet> {
  const entries = await files.list();
  const present = new Map(entries.map((entry) => [entry.path, entry]));
  const draft = new Draft(files, listed(entries), { stored: (sha256) => getBlob(db, sha256) });
  const place = (path: string, content: NewContent) => {
    if (LITTER.test(path)) return;
    const there = present.get(path);
    if (there?.sha256 === content.sha256) {
      result.unchanged++;
      return;
    }
    if (there && onConflict === 'keep') {
      result.conflicts.push({ path, outcome: 'kept as it was' });
      return;
    }
    const isSecond = there ? onConflict === 'both' : draft.has(path);
    const target = isSecond ? draft.free(path) : path;
    if (isSecond) result.conflicts.push({ path, outcome: `kept; the new one is ${target}` });
    draft.put(target, content);
    (there && !isSecond ? result.replaced : result.added).push(target);
  };

  const names: string[] = [];
  for (const [n, { path, sha256, bytes }] of uploads.entries()) {
    await progress(`Unpacking ${baseName(path)}`, n, uploads.length);
    names.push(path);
    if (extensionOf(path) !== 'zip') {
      place(path, { sha256, bytes: Number(bytes), content: null });
      continue;
    }
    const content = await getBlob(db, sha256);
    if (isPackage(content)) {
      const opened = await openPackage(content);
      result.problems.push(...opened.problems);
      if (isDamaged(opened))
        throw new Refusal(`${path} is damaged, so nothing of it was taken. Ask for it again.`);
      const { laidOut, conflicts } = await planUnpack({ draft }, { opened, into: '', onConflict });
      result.conflicts.push(...conflicts);
      for (const { path: target, replaces } of laidOut)
        (replaces ? result.replaced : result.added).push(target);
      continue;
    }
    const entries: { path: string; content: Buffer }[] = [];
    for await (const entry of readZip(content)) {
      if ('refused' in entry)
        result.problems.push({ path: entry.path, problem: `Left out: ${entry.refused}.` });
      else entries.push(entry);
    }
    // The folder that was packed is no part of the paths inside the project, just as one that is picked is none.
    const top = commonTopFolder(entries.map((entry) => entry.path).filter((entry) => !LITTER.test(entry)));
    // Where the project has that folder, it is meant.
    const into = folderOf(path);
    const isThere = top !== '' && draft.filesIn(joinPath(into, top.slice(0, -1))).length > 0;
    for (const entry of entries)
      if (entry.path.startsWith(top))
        place(joinPath(into, isThere ? entry.path : entry.path.slice(top.length)), newContent(entry.content));
  }
  if (uploads.length === 0) throw new Refusal('No file arrived.');
  const what = names.length === 1 ? names[0] : `${names.length} files`;
  return draft.finish(`Imported ${what}`);
}

/** A bag says so by its declaration, whose name stands unpacked in the zip's directory. */
function isPackage(zip: Buffer): boolean {
  return zip.includes('bagit.txt') && zip.includes('manifest-sha256.txt');
}
