import { z } from 'zod';
import { KeptFace } from '#core/geometry/reduce/choices';
import { type MadeForOutside, readManifest } from '#core/project/formats/manifest';
import type { Project } from '#core/project/scan/project';

/** A file that was made for outside. */
export interface OutsideFile {
  path: string;
  /** What it was made from, by the versions that were taken; the original first. */
  sources: MadeForOutside['sources'];
  /** Faces of the original that it was made to keep. */
  kept: KeptFace[];
}

const Kept = z.object({ keepFaces: z.array(KeptFace) });

/** Files of a project that were made for outside. @param manifest of the project */
export function outsideFiles(manifest: Uint8Array, project: Pick<Project, 'files'>): OutsideFile[] {
  return readManifest(manifest).outside.flatMap(({ file, choices, sources }) => {
    if (!project.files.has(file)) return [];
    const read = Kept.safeParse(choices);
    return [{ path: file, sources, kept: read.success ? read.data.keepFaces : [] }];
  });
}
