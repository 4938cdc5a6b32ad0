import { MANIFEST_NAME, type Manifest, readManifest } from '#core/project/formats/manifest';
import type { Project } from '#core/project/scan/project';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';

/** The manifest of a project; null where there is none, or none that can be read: its own row says why. */
export async function manifestOf(db: Database, project: Project): Promise<Manifest | null> {
  const file = project.files.get(MANIFEST_NAME);
  return file && !file.scan.error ? readManifest(await getBlob(db, file.sha256)) : null;
}
