import type { KeptView } from '#core/project/formats/kept-views';
import type { Project } from '#core/project/scan/project';
import type { Database } from '#server/db/connection';
import { manifestOf } from '#server/views/files/kept-manifest';

/** The views that a project keeps, of assemblies that are there. */
export async function keptViews(db: Database, project: Project): Promise<KeptView[]> {
  const views = (await manifestOf(db, project))?.views ?? [];
  return views.filter(({ root }) => project.files.has(root));
}
