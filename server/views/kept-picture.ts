import { href } from 'react-router';
import type { PreviewHome } from './previews';

/** Keeps a picture for as long as a preview needs it. @returns its address */
export async function keptPicture({ keep, projectId }: PreviewHome, gltf: Uint8Array): Promise<string> {
  return href('/projects/:projectId/pictures/:sha256', { projectId, sha256: await keep(gltf) });
}
