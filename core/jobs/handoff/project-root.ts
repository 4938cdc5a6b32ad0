import { lstat, readFile } from 'node:fs/promises';
import path from 'node:path';
import { parseWritten } from '#core/files/links/paths';
import { canHoldLinks, readLinks } from '#core/project/formats/formats';

/**
 * The folder that a file on disk belongs to: the nearest one above it that Stone Tray has worked in, else the
 * smallest that holds the file and all that its relative links lead to.
 */
export async function findProjectRoot(file: string): Promise<string> {
  const start = path.resolve(file);
  for (let folder = path.dirname(start); ; folder = path.dirname(folder)) {
    if (await exists(path.join(folder, '.stonetray'), 'folder')) return folder;
    if (folder === path.dirname(folder)) break;
  }
  let root = path.dirname(start);
  const reached = new Set([start]);
  for (const holder of reached) {
    while (!holder.startsWith(root + path.sep) && root !== path.dirname(root)) root = path.dirname(root);
    for (const written of await linksOf(holder)) {
      const { origin, segments } = parseWritten(written);
      const target = path.resolve(path.dirname(holder), ...segments);
      if (origin === 'relative' && (await exists(target, 'file'))) reached.add(target);
    }
  }
  return root;
}

async function linksOf(file: string): Promise<string[]> {
  try {
    if (!canHoldLinks(file)) return [];
    return readLinks(file, await readFile(file)).map(({ written }) => written);
  } catch {
    return [];
  }
}

async function exists(target: string, kind: 'file' | 'folder'): Promise<boolean> {
  const info = await lstat(target).catch(() => undefined);
  return kind === 'file' ? (info?.isFile() ?? false) : (info?.isDirectory() ?? false);
}
