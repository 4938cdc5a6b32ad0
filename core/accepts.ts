import type { FileRole } from '#core/project/formats/link-format';

/** What an operation starts from. */
export interface Accepts {
  what: 'project' | 'link' | 'change' | 'received' | 'file' | 'files' | 'body' | 'source' | 'lighter';
  /** For files: the part of its page's address that says which. */
  parameter?: string;
  /** For one file that others may go along with: the part of the address that says which. */
  also?: string;
  /** The roles that a file may have; any unless it is said. */
  roles?: readonly FileRole[];
  /** How many bodies a file must hold at least. */
  bodies?: number;
  /** For files: it takes folders, too. */
  folders?: true;
  /** For sources: something that came out of it must be behind. */
  isBehind?: true;
  /** It must have been made for outside. */
  isForOutside?: true;
  /** What makes sense with a file in mind only: found in menus and the palette, and not in the row of pages of its place. */
  isUnlisted?: true;
}

/** A file, as far as it matters for what can be done with it. */
export interface FileToWorkOn {
  path: string;
  role: FileRole;
  bodies: number;
  /** How many files came out of it. */
  derived: number;
  /** How many of those are behind its newest version. */
  behind?: number;
  /** It was made lighter from another file, and can take its place. */
  isLighter?: boolean;
  /** It was made for outside, and tells of nothing else. */
  isForOutside?: boolean;
  /** Others were made lighter from it, and can take its place. */
  hasLighter?: boolean;
}

/** Whether an operation or a report can start from just these files. */
export function canStartFrom(
  { what, also, roles, bodies = 0, isForOutside, isBehind }: Accepts,
  files: readonly FileToWorkOn[],
): boolean {
  const [file, ...more] = files;
  if (!file || (more.length > 0 && what !== 'files' && also === undefined)) return false;
  const fits = files.every(
    (one) =>
      one.bodies >= bodies &&
      (roles?.includes(one.role) ?? true) &&
      (!isForOutside || one.isForOutside === true),
  );
  switch (what) {
    case 'file':
    case 'files':
    case 'body':
      return fits;
    case 'source':
      return fits && file.derived > 0 && (!isBehind || (file.behind ?? 0) > 0);
    case 'lighter':
      return fits && (file.isLighter === true || file.hasLighter === true);
    default:
      return false;
  }
}
