import type { Database } from '#server/db/connection';
import { shapeStatesOf } from '#server/jobs/shapes';
import { projectRevision } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { shapeProgress } from './files-view';

/** Where a project stands: what a page that begins to listen compares with what it was loaded with. */
export interface Standing {
  revision: number;
  /** Contents whose shapes are still to come. */
  open: number;
}

export async function standingOf(db: Database, projectId: string): Promise<Standing> {
  const revision = await projectRevision(db, projectId);
  const project = await loadProject(db, projectId);
  const { open } = shapeProgress(project, await shapeStatesOf(db, project));
  return { revision, open };
}
