import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';

/** All files of a folder, by their paths in it. */
export async function readFolder(folder: string): Promise<[string, Uint8Array][]> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  return Promise.all(
    entries
      .filter((entry) => entry.isFile())
      .map(async (entry): Promise<[string, Uint8Array]> => {
        const full = path.join(entry.parentPath, entry.name);
        return [path.relative(folder, full).split(path.sep).join('/'), await readFile(full)];
      }),
  );
}
