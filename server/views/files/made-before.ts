import type { MadeForOutside } from '#core/project/formats/manifest';
import { type MadeBefore, madeBefore } from '#core/project/scan/made-before';
import type { Project } from '#core/project/scan/project';
import type { Database } from '#server/db/connection';
import { manifestOf } from './kept-manifest';

/** Files for strangers, as the manifest has them. */
export async function outsideOf(db: Database, project: Project): Promise<readonly MadeForOutside[]> {
  return (await manifestOf(db, project))?.outside ?? [];
}

/** What an operation has made of a file before; null where nothing is left of it. */
export async function madeBeforeBy(
  db: Database,
  project: Project,
  path: string | null,
  operation: string,
): Promise<MadeBefore | null> {
  if (path === null) return null;
  const made = madeBefore(project, path, await outsideOf(db, project));
  return made.find((entry) => entry.operation === operation) ?? null;
}
