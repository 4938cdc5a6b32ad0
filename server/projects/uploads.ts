import { z } from 'zod';
import { INPUT_LIMITS } from '#core/archive/limits';
import { type NewContent, newContent } from '#core/change/change-set';
import type { ReceivedFile } from '#core/change/received-file';
import { pathProblem } from '#core/links/paths';
import { Refusal } from '#core/refusal';
import { contentsByHash, dropUnused, getBlob, putBlobStream, putBlobs } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import type { Owner } from '#server/jobs/tasks';

/** What a person has sent for an import. */
export interface Upload {
  id: string;
  files: number;
  bytes: number;
  /** What was not taken, and why, in words. */
  refused: string[];
}

/** One upload of one person. */
export interface UploadOf extends Owner {
  upload: string;
}

/** What was sent and never taken in is kept this long. */
const KEPT_HOURS = 24;

/** Begins to receive files. @returns the upload's id */
export async function startUpload(db: Database, { project, user }: Owner): Promise<string> {
  await discardOld(db);
  const [{ id }] = await db('uploads').insert({ project_id: project, user_id: user }).returning('id');
  return id as string;
}

/**
 * Takes one file, streamed.
 * @returns why it was left out, in words; the upload remembers it, too
 * @throws Refusal when nothing more can be taken
 */
export async function receiveFile(
  db: Database,
  of: UploadOf,
  path: string,
  stream: AsyncIterable<Uint8Array>,
): Promise<string[]> {
  const { bytes: before } = await roomIn(db, of, 1);
  try {
    const clean = cleanPath(path);
    const limit = Math.min(INPUT_LIMITS.fileBytes, INPUT_LIMITS.totalBytes - before);
    const { sha256, bytes } = await putBlobStream(db, stream, limit);
    await remember(db, [{ upload_id: of.upload, path: clean, sha256, bytes }]);
    return [];
  } catch (error) {
    return rememberRefused(db, of, [inWords(path, error)]);
  }
}

/** A file that came together with others. */
export interface SmallFile {
  path: string;
  content: Uint8Array;
}

/**
 * Takes many small files at once.
 * @returns why some were left out, in words; the upload remembers it, too
 * @throws Refusal when there are too many of them
 */
export async function receiveFiles(
  db: Database,
  of: UploadOf,
  files: readonly SmallFile[],
): Promise<string[]> {
  const size = files.reduce((sum, { content }) => sum + content.byteLength, 0);
  const { bytes: before } = await roomIn(db, of, files.length);
  if (before + size > INPUT_LIMITS.totalBytes) throw new Refusal('The files are too large together.');
  const refused: string[] = [];
  const taken = new Map<string, NewContent>();
  for (const { path, content } of files) {
    try {
      taken.set(cleanPath(path), newContent(content));
    } catch (error) {
      refused.push(inWords(path, error));
    }
  }
  await putBlobs(db, contentsByHash([...taken.values()]));
  await remember(
    db,
    [...taken].map(([path, { sha256, bytes }]) => ({ upload_id: of.upload, path, sha256, bytes })),
  );
  return rememberRefused(db, of, refused);
}

/** Says that everything was sent. */
export async function finishUpload(db: Database, of: UploadOf): Promise<void> {
  await rowOf(db, of).update({ sent: true });
}

/** Lets go of what was sent. */
export async function dropUpload(db: Database, of: UploadOf): Promise<void> {
  await discard(db, () => rowOf(db, of));
}

/** What was sent, once it is complete; undefined where there is no such upload, or no longer. */
export async function uploadOf(db: Database, of: UploadOf): Promise<Upload | undefined> {
  const row = await sentRow(db, of);
  if (!row) return undefined;
  return { id: of.upload, ...(await sizeOf(db, of.upload)), refused: row.refused };
}

/** The files of an upload that is complete; nothing where there is no such upload, or no longer. */
export async function receivedIn(db: Database, of: UploadOf): Promise<ReceivedFile[]> {
  if (!(await sentRow(db, of))) return [];
  const rows: { path: string; sha256: string; bytes: string }[] = await db('upload_files')
    .where('upload_id', of.upload)
    .orderBy('path')
    .select('path', 'sha256', 'bytes');
  return rows.map(({ path, sha256, bytes }) => ({
    path,
    sha256,
    bytes: Number(bytes),
    content: null,
    read: () => getBlob(db, sha256),
  }));
}

/** The row of an upload that is complete. */
async function sentRow(db: Database, of: UploadOf): Promise<{ refused: string[] } | undefined> {
  if (!z.uuid().safeParse(of.upload).success) return undefined;
  return rowOf(db, of).where('sent', true).first('refused');
}

function rowOf(db: Database, { project, user, upload }: UploadOf) {
  return db('uploads').where({ id: upload, project_id: project, user_id: user });
}

/** @throws Refusal */
function cleanPath(path: string): string {
  const clean = path.replaceAll('\\', '/').normalize('NFC');
  const problem = pathProblem(clean);
  if (problem) throw new Refusal(`${problem}.`);
  return clean;
}

async function sizeOf(db: Database, upload: string): Promise<{ files: number; bytes: number }> {
  const [{ count, sum }] = (await db('upload_files')
    .where('upload_id', upload)
    .count('* as count')
    .sum('bytes as sum')) as [{ count: string; sum: string | null }];
  return { files: Number(count), bytes: Number(sum ?? 0) };
}

/** What an upload holds so far. @throws Refusal when it is not open, or would hold too many files */
async function roomIn(db: Database, of: UploadOf, more: number): Promise<{ bytes: number }> {
  if (!(await rowOf(db, of).where('sent', false).first('id')))
    throw new Refusal('What was sent is no longer expected. Begin the import again.');
  const { files, bytes } = await sizeOf(db, of.upload);
  if (files + more > INPUT_LIMITS.files)
    throw new Refusal(`One import takes ${INPUT_LIMITS.files.toLocaleString('en')} files at most.`);
  return { bytes };
}

async function remember(
  db: Database,
  rows: readonly { upload_id: string; path: string; sha256: string; bytes: number }[],
): Promise<void> {
  if (rows.length === 0) return;
  await db('upload_files').insert(rows).onConflict(['upload_id', 'path']).merge();
}

async function rememberRefused(db: Database, of: UploadOf, refused: string[]): Promise<string[]> {
  if (refused.length > 0)
    await rowOf(db, of).update({ refused: db.raw('refused || ?::jsonb', [JSON.stringify(refused)]) });
  return refused;
}

/** Why a file was left out. @throws error when it is no refusal */
function inWords(path: string, error: unknown): string {
  if (!(error instanceof Refusal)) throw error;
  // PostgreSQL stores neither NUL nor half a character.
  return `${path} was left out: ${error.message}`.replaceAll('\0', '\ufffd').toWellFormed();
}

async function discardOld(db: Database): Promise<void> {
  await discard(db, () =>
    db('uploads').where('time', '<', db.raw('now() - make_interval(hours => ?)', [KEPT_HOURS])),
  );
}

/** Lets uploads go, and the contents that nothing else holds. */
async function discard(db: Database, which: () => ReturnType<typeof rowOf>): Promise<void> {
  const contents: { sha256: string }[] = await db('upload_files')
    .whereIn('upload_id', which().select('id'))
    .distinct('sha256');
  await which().delete();
  await dropUnused(
    db,
    contents.map(({ sha256 }) => sha256),
  );
}
