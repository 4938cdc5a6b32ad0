import { append } from '#core/multimap';
import { baseName, folderOf, foldPath, joinPath, parseWritten, resolveSegments } from './paths';

export type LinkState = 'sound' | 'behind' | 'missing' | 'ambiguous' | 'loop';

/** States in the order in which they want to be looked at. */
export const WORST_FIRST: readonly LinkState[] = ['missing', 'ambiguous', 'loop', 'behind', 'sound'];

/** Whether a link does not lead to the one file that is meant. One that is behind does. */
export function isBroken(state: LinkState): boolean {
  return state !== 'sound' && state !== 'behind';
}

/** How many links are in which state. */
export type StateCounts = { [state in LinkState]: number };

export function stateCounts(links: Iterable<{ state: LinkState }>): StateCounts {
  const counts = { sound: 0, behind: 0, missing: 0, ambiguous: 0, loop: 0 };
  for (const { state } of links) counts[state]++;
  return counts;
}

/** How many of them do not lead to the one file that is meant. */
export function brokenIn({ missing, ambiguous, loop }: StateCounts): number {
  return missing + ambiguous + loop;
}

/** Where a written link leads, in which state, and why, in one sentence. */
export interface Resolution {
  state: LinkState;
  /** Path of the target; null unless exactly one file fits. */
  to: string | null;
  reason: string;
  /** The files that fit equally well, when there are several. */
  rivals?: string[];
  /** How the one file, or those that fit, were found. */
  found?: FoundBy;
}

/** How a link was found: at its written path, in the folder of its holder, in a search folder, or as the only file of that name. */
export type FoundBy = 'as written' | 'beside' | 'search folder' | 'by name';

/** Finds project files by path or name, without regard to case. Building it costs one pass over the paths. */
export class PathIndex {
  private readonly byPath = new Map<string, string[]>();
  private readonly byName = new Map<string, string[]>();
  private readonly exact: Set<string>;

  constructor(paths: Iterable<string>) {
    this.exact = new Set(paths);
    for (const path of this.exact) {
      append(this.byPath, foldPath(path), path);
      append(this.byName, foldPath(baseName(path)), path);
    }
  }

  has(path: string): boolean {
    return this.exact.has(path);
  }

  /** The one path written exactly so, or else all that differ in case only. */
  atPath(path: string): string[] {
    return this.exact.has(path) ? [path] : (this.byPath.get(foldPath(path)) ?? []);
  }

  named(name: string): string[] {
    const found = this.byName.get(foldPath(name)) ?? [];
    const sameCase = found.filter((path) => baseName(path) === name);
    return sameCase.length > 0 ? sameCase : found;
  }
}

/** The path that a link says to the letter; undefined where it says none within the project. */
export function writtenPath(holder: string, written: string): string | undefined {
  const { origin, segments } = parseWritten(written);
  return origin === 'relative' ? resolveSegments(folderOf(holder), segments) : undefined;
}

/**
 * Resolves a written path: relative to the holder; in the holder's folder; in the search folders, in order; as the
 * only file of that name anywhere. Names compare without case, `\` counts as `/`. Nothing outside the project is
 * ever looked at: absolute paths, addresses and paths that climb out are tried by their file name only.
 */
export function resolveWritten(
  holder: string,
  written: string,
  index: PathIndex,
  searchFolders: readonly string[] = [],
): Resolution {
  const { origin, segments } = parseWritten(written);
  const name = segments.at(-1);
  if (name === undefined || name === '..')
    return { state: 'missing', to: null, reason: 'The link names no file.' };
  const folder = folderOf(holder);

  const inside = origin === 'relative' ? resolveSegments(folder, segments) : undefined;
  if (inside !== undefined) {
    const found = decide(index.atPath(inside), 'as written', () => 'Found where the link says.');
    if (found) return found;
  }
  const besides: [string, FoundBy, string][] = [[folder, 'beside', 'beside the assembly']];
  for (const search of searchFolders)
    besides.push([search, 'search folder', `in the search folder ${search || '/'}`]);
  for (const [place, by, words] of besides) {
    const found = decide(
      index.atPath(joinPath(place, name)),
      by,
      () => `Not at the written path, but found ${words}.`,
    );
    if (found) return found;
  }
  const anywhere = index.named(name).filter((path) => path !== holder);
  const found = decide(
    anywhere,
    'by name',
    (path) =>
      `${pathTrouble(origin, inside)}; ${folderOf(path) || 'the top folder'} has the only file of that name.`,
  );
  if (found) return found;
  return { state: 'missing', to: null, reason: missingReason(origin, inside, name) };
}

function decide(fitting: string[], found: FoundBy, reason: (path: string) => string): Resolution | undefined {
  if (fitting.length === 0) return undefined;
  if (fitting.length === 1) return { state: 'sound', to: fitting[0]!, reason: reason(fitting[0]!), found };
  const rivals = [...fitting].sort();
  const names =
    rivals.length > 3
      ? `${rivals.slice(0, 3).join(', ')} and ${rivals.length - 3} more`
      : rivals.join(' and ');
  return { state: 'ambiguous', to: null, reason: `${rivals.length} files fit: ${names}.`, rivals, found };
}

function pathTrouble(origin: string, inside: string | undefined): string {
  if (origin === 'absolute') return 'The written path belongs to another computer';
  if (origin === 'address') return 'The link is an address, which is never fetched';
  return inside === undefined ? 'The written path leads out of the project' : 'Not at the written path';
}

function missingReason(origin: string, inside: string | undefined, name: string): string {
  if (origin === 'relative' && inside !== undefined) return `No file named ${name} is in the project.`;
  return `${pathTrouble(origin, inside)}, and no file named ${name} is in the project.`;
}
