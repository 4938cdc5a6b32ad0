import { baseName, extensionOf, folderOf, foldPath, freePath, pathProblem } from '#core/files/links/paths';
import type { Planning } from '#core/planning';
import type { ChangeSet } from '#core/project/change/change-set';
import { keepsFormat } from '#core/project/formats/formats';
import { Refusal } from '#core/refusal';
import { keepFolders, trimmed } from './keep-folders';

/** A file or a folder that goes to another path. */
export interface Move {
  from: string;
  to: string;
}

/** One file that moves. */
export interface PlannedMove extends Move {
  /** Why it cannot go there. */
  problem: string | null;
  /** A path that would do, when there is a problem. */
  proposal: string | null;
  /** The files that hold links to it and stay where they are. */
  usedBy: string[];
  /** Its name loses the ending that says what kind of file it is. */
  dropsEnding?: true;
}

/**
 * Takes moves of files and folders apart into moves of files, in order, and says which of them cannot be.
 * @param options `withoutEnding`: names without an ending are meant so
 * @throws Refusal for what is not there, or a folder that would go into itself
 */
export function outlineMoves(
  { project, draft }: Pick<Planning, 'project' | 'draft'>,
  moves: readonly Move[],
  { withoutEnding = false }: { withoutEnding?: boolean } = {},
) {
  const targets = new Map<string, string>();
  for (const move of moves) {
    const [from, to] = [trimmed(move.from), trimmed(move.to)];
    if (draft.has(from)) targets.set(from, to);
    else {
      const inside = draft.filesIn(from);
      if (inside.length === 0) throw new Refusal(`There is no file or folder ${move.from}.`);
      if (`${to}/`.startsWith(`${from}/`) && to !== from) throw new Refusal(`${from} cannot go into itself.`);
      for (const path of inside)
        targets.set(path, to === '' ? path.slice(from.length + 1) : to + path.slice(from.length));
    }
  }
  // A path is free when nothing lies there, or what lies there goes away itself, and only one comes.
  const leaving = new Set([...targets].flatMap(([from, to]) => (from === to ? [] : [foldPath(from)])));
  const coming = new Set<string>();
  const staying = new PathsInUse(
    [...project.files.keys()].map(foldPath).filter((path) => !leaving.has(path)),
  );
  const isFree = (path: string) =>
    !coming.has(foldPath(path)) && (!draft.isTaken(path) || leaving.has(foldPath(path)));
  const taken = (path: string) => (isFree(path) ? null : 'Another file has this path.');
  return [...targets].flatMap(([from, to]): PlannedMove[] => {
    if (from === to) return [];
    const trouble = pathTrouble(to) ?? staying.trouble(to);
    const dropsEnding = extensionOf(to) === '' && extensionOf(from) !== '';
    const ending = `.${baseName(from).split('.').at(-1)}`;
    const problem = trouble ?? endingTrouble(dropsEnding && !withoutEnding, ending) ?? taken(to);
    const proposal =
      problem === null
        ? null
        : proposalFor(
            dropsEnding ? to + ending : to,
            from,
            (path) => isFree(path) && staying.trouble(path) === null,
          );
    coming.add(foldPath(to));
    const holders = new Set((project.usedBy.get(from) ?? []).map((link) => link.holder));
    const usedBy = [...holders].filter((holder) => (targets.get(holder) ?? holder) === holder);
    return [{ from, to, problem, proposal, usedBy, ...(dropsEnding && { dropsEnding }) }];
  });
}

function endingTrouble(isGone: boolean, ending: string): string | null {
  return isGone ? `The ending ${ending} is gone, and nobody would know what kind of file it is.` : null;
}

/** Plans to move files: their links and everybody's to them follow. @throws Refusal for a path that cannot be */
export async function planMoves(
  { project, draft, progress }: Planning,
  moves: readonly PlannedMove[],
  asked: readonly Move[],
): Promise<ChangeSet> {
  // What goes where something else still lies waits aside until that is gone: names may change hands in a circle.
  const waiting: Move[] = [];
  for (const [n, { from, to }] of moves.entries()) {
    await progress(`Moving ${baseName(from)}`, n, moves.length);
    if (project.uses.has(from) && !keepsFormat(from, to))
      draft.warn(
        `${from} gets the ending of another format. Its links to other files are not found any more.`,
      );
    if (!draft.isTaken(to) || foldPath(from) === foldPath(to)) await draft.move(from, to);
    else {
      const aside = draft.free(`${from}.moving`);
      await draft.move(from, aside);
      waiting.push({ from: aside, to });
    }
  }
  for (const { from, to } of waiting) await draft.move(from, to);
  return draft.finish(inWords(moves, asked));
}

function inWords(moves: readonly PlannedMove[], asked: readonly Move[]): string {
  const [only] = asked;
  if (asked.length === 1 && only) {
    return keepFolders([only])
      ? `Renamed ${trimmed(only.from)} to ${baseName(trimmed(only.to))}`
      : `Moved ${trimmed(only.from)} to ${trimmed(only.to) || 'the top folder'}`;
  }
  return `${keepFolders(moves) ? 'Renamed' : 'Moved'} ${moves.length} files`;
}

/** Files and folders that are in use: a name is a file's or a folder's, not both. */
class PathsInUse {
  private readonly files: ReadonlySet<string>;
  private readonly folders: ReadonlySet<string>;

  /** @param folded paths of files, folded */
  constructor(folded: readonly string[]) {
    this.files = new Set(folded);
    this.folders = new Set(folded.flatMap(foldersAbove));
  }

  /** Why no file can have this path; null where nothing is in its way. */
  trouble(path: string): string | null {
    const folded = foldPath(path);
    if (this.folders.has(folded)) return 'A folder has this name.';
    const file = foldersAbove(folded).find((folder) => this.files.has(folder));
    return file === undefined ? null : `${path.slice(0, file.length)} is a file, not a folder.`;
  }
}

/** `a` and `a/b` for `a/b/c`. */
function foldersAbove(path: string): string[] {
  return [...path.matchAll(/\//g)].map(({ index }) => path.slice(0, index));
}

/** The nearest path that would do; the file's own where nothing like the one that was asked for can be. */
function proposalFor(to: string, from: string, isFree: (path: string) => boolean): string {
  const segments = to.split('/').filter((segment) => segment !== '' && segment !== '.' && segment !== '..');
  const cleaned = segments
    .map((segment) => segment.replace(/[<>:"|?*\\\u0000-\u001f\u007f]+/g, '-').replace(/[. ]+$/, ''))
    .join('/');
  const folder = folderOf(cleaned);
  const mayBe = pathTrouble(cleaned) === null && (folder === '' || isFree(`${folder}/${'x'.repeat(40)}`));
  return mayBe ? freePath(cleaned, (path) => !isFree(path)) : from;
}

function pathTrouble(path: string): string | null {
  const problem = pathProblem(path, true);
  return problem ? `${problem[0]!.toUpperCase()}${problem.slice(1)}.` : null;
}
