import { baseName, folderOf, foldPath, joinPath, parseWritten } from '#core/files/links/paths';
import { PathIndex, writtenPath } from '#core/files/links/resolve';
import { onceFor } from '#core/once';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { brokenLinks, wouldLoop } from './plan';

/** A folder that links still lead to, and where what lay in it is now; '' for the top folder. */
export interface MovedFolder {
  from: string;
  to: string;
}

const indexOf = onceFor((project: Project) => new PathIndex(project.files.keys()));

/** Where a link leads to the letter: a path in the project, or outside as it is written. */
export function pathAskedFor({ holder, written }: Pick<ProjectLink, 'holder' | 'written'>): string {
  return writtenPath(holder, written) ?? parseWritten(written).segments.join('/');
}

/** A folder as somebody types it, as paths have it. */
function folderTyped(text: string): string {
  return parseWritten(text.trim()).segments.join('/');
}

/** What became of the links that lead into a folder that has moved. */
export interface Relocated {
  /** The file that each is about now. */
  targets: ReadonlyMap<ProjectLink, string>;
  /** Links into it whose file is not at the new place, or would make a loop there. */
  left: readonly ProjectLink[];
}

/**
 * The files that broken links mean when all that lay in a folder lies in another one now, at the same place below it.
 * @throws Refusal when no broken link leads into it
 */
export function relocated(project: Project, { from, to }: MovedFolder): Relocated {
  const [old, now] = [foldPath(folderTyped(from)), folderTyped(to)];
  const targets = new Map<ProjectLink, string>();
  const left: ProjectLink[] = [];
  for (const link of brokenLinks(project)) {
    const asked = pathAskedFor(link);
    const isWithin = old === '' || foldPath(asked).startsWith(`${old}/`);
    if (!isWithin) continue;
    const below = old === '' ? asked : asked.slice(old.length + 1);
    const found = indexOf(project).atPath(joinPath(now, below));
    const [target] = found;
    if (found.length === 1 && target !== undefined && !wouldLoop(project, link, target))
      targets.set(link, target);
    else left.push(link);
  }
  if (targets.size + left.length === 0)
    throw new Refusal(`No broken link leads into ${from || 'the top folder'}.`);
  return { targets, left };
}

/** Links that one thing that has happened explains. */
export interface Explained {
  /** The one file that all of them mean, or the folders between which all of theirs have moved. */
  what: { file: string; asked: string } | MovedFolder;
  /** Positions of the links, at least two. */
  links: number[];
}

/**
 * What has happened to several links at once, where each is about some file: one file was renamed or moved, or all that lay in a folder.
 * @param targets the file that each link is about; null where none is known
 */
export function explainTogether(
  links: readonly Pick<ProjectLink, 'holder' | 'written'>[],
  targets: readonly (string | null)[],
): Explained[] {
  const found = new Map<string, Explained>();
  const put = (key: string, what: Explained['what'], link: number) => {
    const group = found.get(key);
    if (group) group.links.push(link);
    else found.set(key, { what, links: [link] });
  };
  for (const [n, link] of links.entries()) {
    const target = targets[n];
    if (target === undefined || target === null) continue;
    const asked = pathAskedFor(link);
    const [from, to] = [folderOf(asked), folderOf(target)];
    const isMoved =
      foldPath(baseName(asked)) === foldPath(baseName(target)) && foldPath(from) !== foldPath(to);
    if (isMoved) put(`${foldPath(from)}\n${to}`, { from, to }, n);
    else put(`${foldPath(asked)}\n${target}\n`, { file: target, asked: baseName(asked) }, n);
  }
  return [...found.values()]
    .filter((group) => group.links.length > 1)
    .map((group) => {
      // One file that moved is about that file.
      const files = new Set(group.links.map((link) => targets[link]!));
      const [file] = files;
      return files.size === 1
        ? { ...group, what: { file: file!, asked: baseName(pathAskedFor(links[group.links[0]!]!)) } }
        : group;
    });
}
