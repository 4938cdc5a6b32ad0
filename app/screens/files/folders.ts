import { folderOf } from '#core/files/links/paths';
import { brokenIn } from '#core/files/links/resolve';
import type { FileRow } from '#server/views/packed/packed-rows';

/** A folder of the project with what lies in it, however deep. */
export interface FolderRow {
  /** '' for the top. */
  path: string;
  name: string;
  depth: number;
  files: number;
  /** Links in its files that do not lead where they should. */
  broken: number;
  hasFolders: boolean;
}

/** The folders that files lie in, each behind the one that it is in, by name. Linear in the files and their depth. */
export function foldersOf(files: readonly Pick<FileRow, 'path' | 'links'>[]): FolderRow[] {
  const found = new Map<string, FolderRow>();
  const rowOf = (path: string): FolderRow => {
    const known = found.get(path);
    if (known) return known;
    const name = path.slice(path.lastIndexOf('/') + 1);
    const depth = path === '' ? 0 : path.split('/').length;
    const row = { path, name, depth, files: 0, broken: 0, hasFolders: false };
    found.set(path, row);
    if (path !== '') rowOf(folderOf(path)).hasFolders = true;
    return row;
  };
  rowOf('');
  for (const { path, links } of files) {
    const broken = brokenIn(links);
    for (let folder = folderOf(path); ; folder = folderOf(folder)) {
      const row = rowOf(folder);
      row.files++;
      row.broken += broken;
      if (folder === '') break;
    }
  }
  return [...found.values()].sort((a, b) => compared(a.path, b.path));
}

/** Folder by folder, so that what lies in one follows it. */
function compared(a: string, b: string): number {
  const [one, other] = [a.split('/'), b.split('/')];
  if (a === '' || b === '') return a.length - b.length;
  for (let n = 0; n < Math.min(one.length, other.length); n++) {
    const order = one[n]!.localeCompare(other[n]!, 'en', { numeric: true });
    if (order !== 0) return order;
  }
  return one.length - other.length;
}

/** Whether a file lies in a folder, however deep. */
export function isIn(folder: string, path: string): boolean {
  return folder === '' || path.startsWith(`${folder}/`);
}
