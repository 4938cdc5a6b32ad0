import { href } from 'react-router';
import type { Project } from '#core/project/scan/project';
import type { ShapeState } from '#server/jobs/shapes';

/** What previews are made for pages with. */
export interface PreviewHome {
  project: Project;
  projectId: string;
  shapes(): Promise<ReadonlyMap<string, ShapeState>>;
  /** Keeps something for the page as long as the task is kept. @returns its hash */
  keep(bytes: Uint8Array): Promise<string>;
}

/** Keeps a picture for as long as a preview needs it. @returns its address */
export async function keptPicture({ keep, projectId }: PreviewHome, gltf: Uint8Array): Promise<string> {
  return href('/projects/:projectId/pictures/:sha256', { projectId, sha256: await keep(gltf) });
}
