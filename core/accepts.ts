import type { FileRole } from '#core/project/formats/link-format';

/** What an operation starts from. */
export interface Accepts {
  what: 'project' | 'link' | 'change' | 'received' | 'file' | 'files' | 'body' | 'source' | 'lighter';
  /** For files: the part of its page's address that says which. */
  parameter?: string;
  /** The roles that a file may have; any unless it is said. */
  roles?: readonly FileRole[];
  /** How many bodies a file must hold at least. */
  bodies?: number;
}

/** A file, as far as it matters for what can be done with it. */
export interface FileToWorkOn {
  path: string;
  role: FileRole;
  bodies: number;
  /** How many files came out of it. */
  derived: number;
  /** It was made lighter from another file, and can take its place. */
  isLighter?: boolean;
}

/** Whether an operation can start from just these files. */
export function canStartFrom({ what, roles, bodies = 0 }: Accepts, files: readonly FileToWorkOn[]): boolean {
  if (what === 'files') return files.length > 0;
  const [file] = files;
  if (!file || files.length > 1) return false;
  if (what === 'source') return file.derived > 0;
  if (what === 'lighter') return file.isLighter === true || file.derived > 0;
  return (
    (what === 'file' || what === 'body') && file.bodies >= bodies && (roles?.includes(file.role) ?? true)
  );
}
