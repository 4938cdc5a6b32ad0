import type { Manifest } from '#core/project/formats/manifest';
import { manifestOf as readManifestOf } from '#core/project/scan/manifest-of';
import type { Project } from '#core/project/scan/project';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';

/** The manifest of a project; null where there is none, or none that can be read: its own row says why. */
export function manifestOf(db: Database, project: Project): Promise<Manifest | null> {
  return readManifestOf(project, ({ sha256 }) => getBlob(db, sha256));
}
