import { baseName } from '#core/files/links/paths';
import { type Look, lookOf } from '#core/project/formats/looks';
import { answerWithBlob, streamBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { asDownload, shownUnder } from '#server/download';
import { newestOf } from './kept-contents';

/** So much of a text is shown; the whole is there to be downloaded. Bytes. */
const MOST_TEXT = 300_000;

/** A file to be looked at. */
export interface LookedAtFile {
  path: string;
  sha256: string;
  as: Look['as'];
  /** Of meshes: what it is read as. */
  mesh?: Look['mesh'];
  /** Of texts: as much as is shown. */
  text: string | null;
  isCut: boolean;
}

/** The newest version of a file, to be looked at; null for one that cannot, undefined for one that is not there. */
export async function lookAt(
  db: Database,
  projectId: string,
  path: string,
): Promise<LookedAtFile | null | undefined> {
  const sha256 = await newestOf(db, projectId, path);
  if (sha256 === undefined) return undefined;
  const look = lookOf(path);
  if (!look) return null;
  if (look.as !== 'text' && look.as !== 'markdown')
    return { path, sha256, as: look.as, mesh: look.mesh, text: null, isCut: false };
  const { stream, bytes } = await streamBlob(db, sha256);
  const pieces: Uint8Array[] = [];
  let length = 0;
  for await (const piece of stream as unknown as AsyncIterable<Uint8Array>) {
    pieces.push(piece);
    length += piece.length;
    if (length >= MOST_TEXT) break;
  }
  // Where it is cut in the middle of a letter, that letter is left out.
  const text = new TextDecoder('utf-8').decode(Buffer.concat(pieces).subarray(0, MOST_TEXT), {
    stream: true,
  });
  return { path, sha256, as: look.as, text, isCut: bytes > MOST_TEXT };
}

/**
 * What an answer may do that stands in a page: nothing. No script runs, nothing is fetched, and it is in no site that the page is in. A
 * PDF is shown by the browser's own viewer, which a sandbox would keep out.
 */
function policyOf({ as }: Look): string {
  const nothing = "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'";
  return as === 'document'
    ? `${nothing}; object-src 'self'`
    : `sandbox; ${nothing}; img-src data:; font-src data:`;
}

/** One version of a file as a page shows it in a frame or as an image. Undefined for what is not in the project, or is not shown. */
export async function shownAnswer(
  db: Database,
  projectId: string,
  { sha256, path }: { sha256: string; path: string },
): Promise<Response | undefined> {
  const look = lookOf(path);
  const version = look && (await db('versions').where({ project_id: projectId, sha256, path }).first('path'));
  if (!look || !version) return undefined;
  return answerWithBlob(db, sha256, {
    ...asDownload(baseName(path), look.type),
    'Content-Disposition': shownUnder(baseName(path)),
    'Content-Security-Policy': policyOf(look),
    'Cache-Control': 'private, max-age=86400, immutable',
  });
}
