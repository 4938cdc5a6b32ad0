import { folderOf } from '#core/files/links/paths';

export function trimmed(path: string): string {
  return path.trim().replace(/^\.?\/+|\/+$/g, '');
}

/** Whether only names are others, not places. */
export function keepFolders(moves: readonly { from: string; to: string }[]): boolean {
  return moves.every(({ from, to }) => folderOf(trimmed(from)) === folderOf(trimmed(to)));
}
