import { lstat, readFile } from 'node:fs/promises';
import path from 'node:path';
import { parseWritten } from '#core/files/links/paths';
import { canHoldLinks, readLinks } from '#core/project/formats/formats';
import { MANIFEST_NAME } from '#core/project/formats/manifest';

/**
 * The folder that a file on disk belongs to: the nearest one above it that Stone Tray has worked in or that a manifest
 * lies in, else the smallest that holds the file and all that its relative links lead to.
 */
export async function findProjectRoot(file: string): Promise<string> {
  const start = path.resolve(file);
  const worked = await workedAround(start);
  if (worked !== undefined) return worked;
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

/**
 * The folder in which others may lead to a file: the nearest one above it that Stone Tray has worked in, or that a manifest lies in; else the
 * folder that one is in, if the file lies below; else the file's own.
 */
export async function findFolderOfUsers(file: string): Promise<string> {
  const start = path.resolve(file);
  const worked = await workedAround(start);
  if (worked !== undefined) return worked;
  const here = process.cwd();
  return start.startsWith(here + path.sep) ? here : path.dirname(start);
}

/** The nearest folder above a file that Stone Tray has worked in, or that a manifest lies in. */
async function workedAround(file: string): Promise<string | undefined> {
  for (let folder = path.dirname(file); ; folder = path.dirname(folder)) {
    if (await exists(path.join(folder, '.stonetray'), 'folder')) return folder;
    if (await exists(path.join(folder, MANIFEST_NAME), 'file')) return folder;
    if (folder === path.dirname(folder)) return undefined;
  }
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
