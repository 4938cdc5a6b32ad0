import { z } from 'zod';
import type { Project } from '#core/scan/project';
import { SplitChoices } from '#core/split/choices';
import { openSource, outlineSplit, type SplitOutline } from '#core/split/plan';
import { SplitError } from '#core/split/source-part';
import type { Database } from '#server/db/connection';
import { measuredBodies } from '#server/jobs/shapes';
import { ProjectFileSet } from './project-files';
import { loadProject } from './project-scan';

/** What the split page sends, to see a plan or to have it carried out. */
export const SplitRequest = z.object({
  file: z.string(),
  /** The version of the source that the page shows. */
  sha256: z.string(),
  choices: SplitChoices,
  /** Files that will be written over, with the versions that the page showed. */
  base: z.array(z.object({ path: z.string(), base: z.string() })).default([]),
});

export const UNREADABLE_CHOICES = 'The choices cannot be read. Reload the page and choose again.';

/**
 * The outline of a split in a project.
 * @throws SplitError when the source has changed since the page was loaded, or is not measured yet
 */
export async function makeOutline(
  db: Database,
  projectId: string,
  userId: string,
  { file, sha256, choices }: z.infer<typeof SplitRequest>,
): Promise<{ scanned: Project; files: ProjectFileSet; outline: SplitOutline }> {
  const scanned = await loadProject(db, projectId);
  if (scanned.files.get(file)?.sha256 !== sha256)
    throw new SplitError(
      `${file} has changed since this page was loaded. Reload it to split the new version.`,
    );
  const files = new ProjectFileSet(db, projectId, userId);
  const source = await openSource(files, file);
  const measured = await measuredBodies(db, sha256);
  if (!measured)
    throw new SplitError('The shapes of this part are still being prepared. Wait until they are there.');
  return { scanned, files, outline: outlineSplit(scanned, source, choices, measured) };
}
