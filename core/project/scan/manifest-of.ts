import { MANIFEST_NAME, type Manifest, readManifest } from '#core/project/formats/manifest';
import type { Project } from './project';

/**
 * The manifest of a project; null where there is none, or none that can be read: its own row says why.
 * @param read the content of a file of the project
 */
export async function manifestOf(
  project: Pick<Project, 'files'>,
  read: (file: { path: string; sha256: string }) => Promise<Uint8Array>,
): Promise<Manifest | null> {
  const file = project.files.get(MANIFEST_NAME);
  return file && file.scan.error === null ? readManifest(await read(file)) : null;
}
