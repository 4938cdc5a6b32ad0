import { z } from 'zod';
import { INPUT_LIMITS } from '#core/files/archive/limits';
import { pathProblem } from '#core/files/links/paths';
import { type NewContent, newContent } from '#core/project/change/change-set';
import type { ReceivedFile } from '#core/project/change/received-file';
import { Refusal } from '#core/refusal';
import { beginArriving, endArriving } from '#server/db/arriving';
import { CHUNK, contentsByHash, dropUnused, getBlob, measureBlob, putBlob, putBlobs } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { storedJson } from '#server/db/stored-text';
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
/** A person has so many uploads at most, in all projects; of more, the oldest are let go. */
const MOST_UPLOADS = 10;
/** Bytes that all uploads of a person may hold together. */
const MOST_BYTES = 2 * INPUT_LIMITS.totalBytes;

/** Begins to receive files. @returns the upload's id */
export async function startUpload(db: Database, { project, user }: Owner): Promise<string> {
  await collectUploads(db);
  const own = () => db('uploads').where('user_id', user);
  const tooMany: string[] = await own()
    .orderBy('time', 'desc')
    .offset(MOST_UPLOADS - 1)
    .pluck('id');
  if (tooMany.length > 0) await discard(db, () => own().whereIn('id', tooMany));
  const [{ id }] = await db('uploads').insert({ project_id: project, user_id: user }).returning('id');
  return id as string;
}

/** Bytes that a part of a file may have; all but the last have a whole number of pieces of the store. */
export const PART = 8 * CHUNK;

/** Where a part of a file belongs. */
export interface Part {
  path: string;
  /** Bytes before it, and of the whole file. */
  from: number;
  total: number;
}

/**
 * Takes a part of a file, in a transaction of its own. Parts come one after the other; one that is not the next is not taken, so one that comes
 * twice does no harm.
 * @returns how many bytes of the file are there: sending goes on from there. All of them when the file is left out, and why, in words; the
 * upload remembers it, too
 * @throws Refusal when nothing more can be taken
 */
export async function receivePart(
  db: Database,
  of: UploadOf,
  { path, from, total }: Part,
  content: Uint8Array,
): Promise<{ there: number; refused: string[] }> {
  const { bytes: before } = await roomIn(db, of, 1, path.replaceAll('\\', '/'));
  try {
    const clean = cleanPath(path);
    if (total > INPUT_LIMITS.fileBytes || before + total > INPUT_LIMITS.totalBytes)
      throw new Refusal(
        `it is larger than ${megabytes(Math.min(INPUT_LIMITS.fileBytes, INPUT_LIMITS.totalBytes - before))}.`,
      );
    const end = from + content.byteLength;
    if (content.byteLength > PART || end > total || (end < total && content.byteLength % CHUNK !== 0))
      throw new Refusal('its parts do not fit together. Send it again.');
    if (content.byteLength === total) {
      const sha256 = await putBlob(db, content);
      await remember(db, [{ upload_id: of.upload, path: clean, sha256, bytes: total }]);
      return { there: total, refused: [] };
    }
    const there = await addPart(db, of, { path: clean, from, total }, content);
    if (there === total) await completeParts(db, of, clean);
    return { there, refused: [] };
  } catch (error) {
    return { there: total, refused: await rememberRefused(db, of, [inWords(path, error)]) };
  }
}

/** @returns how many bytes are there now */
async function addPart(
  db: Database,
  { upload }: UploadOf,
  { path, from, total }: Part,
  content: Uint8Array,
): Promise<number> {
  const place = { upload_id: upload, path };
  // What came to its end, and whoever sent it was not told.
  if (
    await db('upload_files')
      .where({ ...place, bytes: total })
      .first('path')
  )
    return total;
  if (from === 0 && !(await db('upload_parts').where(place).first('path')))
    await db('upload_parts')
      .insert({ ...place, sha256: await beginArriving(db) })
      .onConflict(['upload_id', 'path'])
      .ignore();
  return db.transaction(async (trx) => {
    const row = await trx('upload_parts').where(place).forUpdate().first('sha256', 'bytes');
    const there = Number(row?.bytes ?? 0);
    if (!row || there !== from) return there;
    for (let at = 0; at < content.byteLength; at += CHUNK)
      await trx('blob_chunks').insert({
        sha256: row.sha256,
        number: (from + at) / CHUNK,
        data: Buffer.from(content.subarray(at, at + CHUNK)),
      });
    const bytes = from + content.byteLength;
    await trx('upload_parts').where(place).update({ bytes });
    return bytes;
  });
}

/** Hashes a file of which all parts are there, and takes it in. Done twice, it is there once. */
async function completeParts(db: Database, { upload }: UploadOf, path: string): Promise<void> {
  const place = { upload_id: upload, path };
  const row = await db('upload_parts').where(place).first('sha256', 'bytes');
  if (!row) return;
  const content = await measureBlob(db, row.sha256);
  // It was let go of meanwhile.
  if (content.bytes !== Number(row.bytes)) return;
  await db.transaction(async (trx) => {
    await endArriving(trx, row.sha256, content);
    await trx('upload_parts').where(place).delete();
    await remember(trx, [{ ...place, ...content }]);
  });
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
  const clean = path.replaceAll('\\', '/');
  const problem = pathProblem(clean);
  if (problem) throw new Refusal(`${problem}.`);
  return clean;
}

async function sizeOf(db: Database, upload: string): Promise<{ files: number; bytes: number }> {
  return countIn(db, 'upload_files', [upload]);
}

async function countIn(
  db: Database,
  table: 'upload_files' | 'upload_parts',
  uploads: readonly string[],
): Promise<{ files: number; bytes: number }> {
  const [{ count, sum }] = (await db(table)
    .whereIn('upload_id', uploads)
    .count('* as count')
    .sum('bytes as sum')) as [{ count: string; sum: string | null }];
  return { files: Number(count), bytes: Number(sum ?? 0) };
}

/**
 * What an upload holds so far, with what is begun in it. @throws Refusal when it is not open, or would hold too many files, and where all
 * that a person has sent is too much together
 * @param arriving the file that is going on: what is there of it does not count beside it
 */
async function roomIn(
  db: Database,
  of: UploadOf,
  more: number,
  arriving?: string,
): Promise<{ bytes: number }> {
  if (!(await rowOf(db, of).where('sent', false).first('id')))
    throw new Refusal('What was sent is no longer expected. Begin the import again.');
  const size = async (uploads: readonly string[]) => {
    const [whole, parts] = [
      await countIn(db, 'upload_files', uploads),
      await countIn(db, 'upload_parts', uploads),
    ];
    return { files: whole.files + parts.files, bytes: whole.bytes + parts.bytes };
  };
  const own = await size([of.upload]);
  const [begun] = arriving
    ? await db('upload_parts').where({ upload_id: of.upload, path: arriving }).select('bytes')
    : [];
  const files = own.files - (begun ? 1 : 0);
  const bytes = own.bytes - Number(begun?.bytes ?? 0);
  if (files + more > INPUT_LIMITS.files)
    throw new Refusal(`One import takes ${INPUT_LIMITS.files.toLocaleString('en')} files at most.`);
  const all = await size(await db('uploads').where('user_id', of.user).pluck('id'));
  if (all.bytes > MOST_BYTES)
    throw new Refusal(
      `What you have sent and not imported yet is more than ${megabytes(MOST_BYTES)}. Import or close it first.`,
    );
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
    await rowOf(db, of).update({ refused: db.raw('refused || ?::jsonb', [storedJson(refused)]) });
  return refused;
}

/** Why a file was left out. @throws error when it is no refusal */
function inWords(path: string, error: unknown): string {
  if (!(error instanceof Refusal)) throw error;
  // PostgreSQL stores neither NUL nor half a character.
  return `${path} was left out: ${error.message}`.replaceAll('\0', '\ufffd').toWellFormed();
}

function megabytes(bytes: number): string {
  return `${Math.round(bytes / 1024 / 1024)} MB`;
}

/** Lets go of what was sent long ago and never taken in. */
export async function collectUploads(db: Database): Promise<void> {
  await discard(db, () =>
    db('uploads').where('time', '<', db.raw('now() - make_interval(hours => ?)', [KEPT_HOURS])),
  );
}

/** Lets uploads go, and the contents that nothing else holds. */
async function discard(db: Database, which: () => ReturnType<typeof rowOf>): Promise<void> {
  const contents: { sha256: string }[] = await db('upload_files')
    .whereIn('upload_id', which().select('id'))
    .distinct('sha256');
  // What has not arrived whole goes with its upload.
  await db('blobs')
    .whereIn('sha256', db('upload_parts').whereIn('upload_id', which().select('id')).select('sha256'))
    .delete();
  await which().delete();
  await dropUnused(
    db,
    contents.map(({ sha256 }) => sha256),
  );
}
