import { type FileSet, sha256 } from '#core/project/change/file-set';
import { scanContent } from './content';
import { type Project, type ResolveOptions, resolveProject, type ScannedFile } from './project';
import { readAhead } from './read-ahead';

/**
 * Scans every file of a set and resolves the links between them. A file that cannot be read or understood gets an
 * error and the rest goes on.
 */
export async function scanFileSet(
  files: FileSet & { walk?(): Promise<string[]> },
  options: ResolveOptions = {},
): Promise<Project> {
  const paths = files.walk ? await files.walk() : (await files.list()).map(({ path }) => path);
  const scanned: ScannedFile[] = [];
  for await (const { item, content } of readAhead(paths, (path) => files.read(path)))
    scanned.push(await scanFile(item, content));
  return resolveProject(scanned, options);
}

/** Larger ones are hashed where they lie: the other way takes a copy. */
const MOST_COPIED = 16 * 1024 * 1024;

async function hashOf(content: Uint8Array): Promise<string> {
  if (content.byteLength > MOST_COPIED) return sha256(content);
  const digest = await crypto.subtle.digest('SHA-256', content as Uint8Array<ArrayBuffer>);
  return Buffer.from(digest).toString('hex');
}

async function scanFile(path: string, reading: Promise<Uint8Array>): Promise<ScannedFile> {
  try {
    const content = await reading;
    // Another processor hashes it meanwhile.
    const hashing = hashOf(content);
    const scan = scanContent(path, content);
    return { path, bytes: content.byteLength, sha256: await hashing, scan };
  } catch (error) {
    const scan = {
      ...scanContent(path, new Uint8Array()),
      error: error instanceof Error ? error.message : String(error),
    };
    return { path, bytes: 0, sha256: '', scan };
  }
}
