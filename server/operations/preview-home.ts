import { href } from 'react-router';
import type { PreviewHome } from '#core/planned';
import type { Project } from '#core/project/scan/project';
import { putBlob } from '#server/db/blobs';
import { shapesOf } from '#server/jobs/shapes';
import { Pictures } from '#server/views/structure/scene';
import type { PlanRequest } from './context';

/** What previews are made for pages with. @returns also the contents that are kept for them, by their hashes */
export function previewHome(
  { db, project: projectId }: Pick<PlanRequest, 'db' | 'project'>,
  project: Project,
): { home: PreviewHome; blobs: string[] } {
  const blobs: string[] = [];
  const home: PreviewHome = {
    project,
    keepPicture: async (gltf) => {
      const sha256 = await putBlob(db, gltf);
      blobs.push(sha256);
      return href('/projects/:projectId/pictures/:sha256', { projectId, sha256 });
    },
    pictures: async () => new Pictures(project, await shapesOf(db, project, projectId), projectId),
  };
  return { home, blobs };
}
