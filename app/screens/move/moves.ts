import { baseName, folderOf, joinPath } from '#core/files/links/paths';
import type { Move } from '#core/jobs/move/plan';
import { type NamePattern, renamed } from '#core/name-pattern';

/**
 * Where files and folders go: as typed, or else into the folder and by the pattern. The ending of a file's name stays.
 * @param paths every file of the project: what is none of them is a folder
 * @returns only what goes somewhere else
 */
export function movesOf(
  chosen: readonly string[],
  paths: readonly string[],
  {
    typed,
    pattern,
    folder,
  }: { typed: { readonly [from: string]: string }; pattern: NamePattern; folder: string | null },
): Move[] {
  const files = new Set(paths);
  return chosen.flatMap((from) => {
    const name = baseName(from);
    const dot = files.has(from) ? name.lastIndexOf('.') : -1;
    const [stem, ending] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
    const to = typed[from] ?? joinPath(folder ?? folderOf(from), renamed(stem, pattern) + ending);
    return to === from ? [] : [{ from, to }];
  });
}

/** Every folder that holds something, with the top one as ''. */
export function foldersOf(paths: readonly string[]): string[] {
  const folders = new Set(['']);
  for (const path of paths)
    for (let folder = folderOf(path); folder !== ''; folder = folderOf(folder)) folders.add(folder);
  return [...folders].sort();
}
