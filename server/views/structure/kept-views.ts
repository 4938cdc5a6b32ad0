import type { KeptView } from '#core/project/formats/kept-views';
import { MANIFEST_NAME, readManifest } from '#core/project/formats/manifest';
import type { Project } from '#core/project/scan/project';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';

/** The views that a project keeps, of assemblies that are there; none of a manifest that cannot be read: its own page says why. */
export async function keptViews(db: Database, project: Project): Promise<KeptView[]> {
  const manifest = project.files.get(MANIFEST_NAME);
  if (!manifest || manifest.scan.error) return [];
  const { views = [] } = readManifest(await getBlob(db, manifest.sha256));
  return views.filter(({ root }) => project.files.has(root));
}
