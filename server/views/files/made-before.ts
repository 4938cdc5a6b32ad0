import { MANIFEST_NAME, type MadeForOutside, readManifest } from '#core/project/formats/manifest';
import { type MadeBefore, madeBefore } from '#core/project/scan/made-before';
import type { Project } from '#core/project/scan/project';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';

/** Files for strangers, as the manifest has them; none where it cannot be read: its own row says why. */
export async function outsideOf(db: Database, project: Project): Promise<readonly MadeForOutside[]> {
  const manifest = project.files.get(MANIFEST_NAME);
  if (!manifest || manifest.scan.error) return [];
  return readManifest(await getBlob(db, manifest.sha256)).outside;
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
