import { folderOf, joinPath, relativePath, stemOf } from '#core/files/links/paths';
import type { PlanContext } from '#core/planning';
import type { Recipe, SourceMemory } from '#core/product/source/memory';
import { newFileName } from '#core/project/formats/endings';

/** Where a new file goes that is made from an original. */
export interface NewFile {
  folder: string;
  /** Without an ending. */
  name: string;
  /** Path of the STEP file. */
  file: string;
}

/**
 * A file that is made again stays where it is.
 * @param beside what the names of files end in that are written beside it, under the same name: all of them are free, too
 */
export function newFileOf(
  { draft, remadeFile }: PlanContext,
  root: string,
  choices: { folder: string | null; pattern: string },
  beside: readonly string[] = [],
): NewFile {
  const folder = choices.folder ?? folderOf(root);
  const name = choices.pattern.replaceAll('{name}', stemOf(root));
  if (remadeFile !== undefined) return { folder: folderOf(remadeFile), name, file: remadeFile };
  for (let number = 1; ; number++) {
    const stem = number === 1 ? name : `${name}-${number}`;
    const names = [newFileName(stem), ...beside.map((ending) => stem + ending)];
    const [file, ...others] = names.map((name) => joinPath(folder, name));
    if (![file!, ...others].some((path) => draft.isTaken(path))) return { folder, name, file: file! };
  }
}

/** What a file was made from: the original first. */
export function sourcesOf(root: string, parts: Iterable<string>): string[] {
  return [...new Set([root, ...parts])];
}

/** A tie to something that a file was made from, as the file has it. */
export type Tie = { written: string } & SourceMemory;

/** The ties of a new file to what it was made from; the one to the original holds the recipe. */
export function tiesTo(
  { project }: PlanContext,
  file: string,
  sources: readonly string[],
  recipe: Recipe,
): Tie[] {
  return sources.map((path, n) => ({
    written: relativePath(file, path),
    relation: recipe.operation,
    sha256: project.files.get(path)!.sha256,
    bodies: [],
    ...(n === 0 && { recipe }),
  }));
}

/** Tells the draft of the ties of a file that was written. */
export function linkTies({ draft }: PlanContext, file: string, sources: readonly string[]): void {
  for (const path of sources)
    draft.linked({ holder: file, kind: 'source', written: relativePath(file, path) }, path);
}
