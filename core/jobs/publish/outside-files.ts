import { readManifest } from '#core/project/formats/manifest';
import type { Project } from '#core/project/scan/project';

/** A file that was made for outside, with the names of the faces that it keeps. */
export interface OutsideFile {
  path: string;
  mounting: string[];
}

/** Files of a project that were made for outside. @param manifest of the project */
export function outsideFiles(manifest: Uint8Array, project: Pick<Project, 'files'>): OutsideFile[] {
  return readManifest(manifest).outside.flatMap(({ file, choices }) => {
    if (!project.files.has(file)) return [];
    const kept = (choices as { keepFaces?: { name?: string }[] } | null)?.keepFaces ?? [];
    return [{ path: file, mounting: kept.flatMap(({ name }) => (name ? [name] : [])) }];
  });
}
