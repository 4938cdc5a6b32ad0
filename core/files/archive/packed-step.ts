import { gunzipSync, gzipSync } from 'node:zlib';
import { looksLikePart21 } from '#core/files/part21/file';
import { INPUT_LIMITS, RATIO_FREE_BYTES } from './limits';
import { beginningOf, contentOf, looksLikeZip, withContents, type ZipPart, zipParts } from './zip-parts';

/** The entry that an archive of edition 3 begins with (ISO 10303-21:2016, Annex A). */
const ROOT = /^iso-?_?10303(-21)?\.(p21|txt)$/i;

/** Whether bytes are a gzip or a zip, as exchange structures are packed in. */
export function looksPacked(bytes: Uint8Array): boolean {
  return looksLikeGzip(bytes) || looksLikeZip(bytes);
}

function looksLikeGzip(bytes: Uint8Array): boolean {
  return bytes[0] === 0x1f && bytes[1] === 0x8b && bytes[2] === 8;
}

/**
 * The exchange structure in a packed file: a gzip, a zip of one file, or an archive of edition 3; any other bytes as they are.
 * @throws Error for a zip that holds none or several, and for contents beyond the limits
 */
export function unpackedStep(bytes: Uint8Array): Uint8Array {
  if (looksLikeGzip(bytes)) return gunzipped(bytes);
  return looksLikeZip(bytes) ? contentOf(bytes, rootOf(bytes), mostOf(bytes)) : bytes;
}

/** What a packed file becomes with another exchange structure in it: everything else of an archive is copied as it is. */
export function packedLike(before: Uint8Array, content: Uint8Array): Uint8Array {
  if (looksLikeGzip(before)) return packedAnew(content);
  return looksLikeZip(before) ? withContents(before, new Map([[rootOf(before).path, content]])) : content;
}

/** An exchange structure packed by itself. */
export function packedAnew(content: Uint8Array): Uint8Array {
  return gzipSync(content);
}

/** Names of other files in an archive, which links of the exchange structure may lead to; none where there is no archive. */
export function besidesInArchive(bytes: Uint8Array): string[] {
  if (!looksLikeZip(bytes)) return [];
  const root = rootOf(bytes);
  return zipParts(bytes).flatMap(({ path }) => (path === root.path || path.endsWith('/') ? [] : [path]));
}

function gunzipped(bytes: Uint8Array): Uint8Array {
  try {
    return gunzipSync(bytes, { maxOutputLength: mostOf(bytes) });
  } catch (error) {
    const isTooLarge = (error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE';
    throw new Error(
      isTooLarge
        ? 'Unpacked, it is larger than a file may be that is so small when packed.'
        : `It cannot be unpacked: ${(error as Error).message}.`,
    );
  }
}

function mostOf({ byteLength }: Uint8Array): number {
  return Math.min(INPUT_LIMITS.fileBytes, Math.max(RATIO_FREE_BYTES, byteLength * INPUT_LIMITS.ratio));
}

function rootOf(bytes: Uint8Array): ZipPart {
  const files = zipParts(bytes).filter(({ path }) => !path.endsWith('/'));
  const root = files.find(({ path }) => ROOT.test(path)) ?? (files.length === 1 ? files[0] : undefined);
  if (root) return root;
  const steps = files.filter((part) => looksLikePart21(beginningOf(bytes, part)));
  if (steps.length === 1) return steps[0]!;
  throw new Error(
    steps.length === 0
      ? 'The zip holds no STEP file.'
      : `The zip holds ${steps.length} STEP files, and none of them is named as its first one. Import the zip instead.`,
  );
}
