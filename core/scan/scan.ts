import { type FileSet, sha256 } from '#core/change/file-set';
import { scanContent } from './content';
import { type Project, type ResolveOptions, resolveProject, type ScannedFile } from './project';

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
  for (const path of paths) scanned.push(await scanFile(files, path));
  return resolveProject(scanned, options);
}

async function scanFile(files: FileSet, path: string): Promise<ScannedFile> {
  try {
    const content = await files.read(path);
    return { path, bytes: content.byteLength, sha256: sha256(content), scan: scanContent(path, content) };
  } catch (error) {
    const scan = {
      ...scanContent(path, new Uint8Array()),
      error: error instanceof Error ? error.message : String(error),
    };
    return { path, bytes: 0, sha256: '', scan };
  }
}
