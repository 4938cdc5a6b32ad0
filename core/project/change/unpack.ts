import { INPUT_LIMITS, type InputLimits } from '#core/files/archive/limits';
import { EntryRefused, readZip, type ZipSource } from '#core/files/archive/read-zip';
import { type NamedContent, type NewContent, newContent } from './change-set';

/** What came out of a zip: a content that is kept somewhere, or why it was left out. */
export type UnpackedEntry =
  | (NamedContent & {
      /** Its name was written otherwise: letters in pieces, as some systems write them. */
      isComposed?: boolean;
    })
  | { path: string; refused: string };

/** A zip that is unpacked, and how its contents are read. */
export interface Unpacked {
  entries: readonly UnpackedEntry[];
  read(content: NewContent): Promise<Uint8Array>;
}

/**
 * Unpacks a zip, one piece of one entry at a time.
 * @param keep keeps the content of an entry; what it throws besides EntryRefused ends the whole
 * @throws ArchiveError
 */
export async function unpack(
  source: ZipSource,
  keep: (content: AsyncIterable<Buffer>) => Promise<NewContent>,
  limits: InputLimits = INPUT_LIMITS,
): Promise<UnpackedEntry[]> {
  const entries: UnpackedEntry[] = [];
  for await (const entry of readZip(source, limits)) {
    const { path } = entry;
    if ('refused' in entry) entries.push(entry);
    else
      try {
        entries.push({ path, ...(entry.isComposed && { isComposed: true }), ...(await keep(entry.content)) });
      } catch (error) {
        if (!(error instanceof EntryRefused)) throw error;
        entries.push({ path, refused: error.message });
      }
  }
  return entries;
}

/** Unpacks a zip into memory. @throws ArchiveError */
export async function unpackInMemory(source: ZipSource, limits?: InputLimits): Promise<Unpacked> {
  const keep = async (content: AsyncIterable<Buffer>) => {
    const pieces: Buffer[] = [];
    for await (const piece of content) pieces.push(piece);
    return newContent(Buffer.concat(pieces));
  };
  return { entries: await unpack(source, keep, limits), read: async ({ content }) => content! };
}
