import { type FollowOutline, type Measured, outlineFollow } from '#core/follow/plan';
import { tiesTo } from '#core/follow/ties';
import type { Project } from '#core/scan/project';
import { openSource } from '#core/split/plan';
import type { Database } from '#server/db/connection';
import { measuredBodies } from '#server/jobs/shapes';
import { ProjectFileSet } from './project-files';

/** A file that others came out of. */
export interface SourceFile {
  path: string;
  /** Files that came out of it. */
  files: number;
  /** Of these, how many remember an older version. */
  behind: number;
}

/** Every source of a project, those that moved on first. */
export function sourcesOf(project: Project): SourceFile[] {
  const sources = new Map<string, SourceFile>();
  for (const { source, to, state } of project.links) {
    if (!source || to === null) continue;
    const entry = sources.get(to) ?? { path: to, files: 0, behind: 0 };
    entry.files++;
    if (state === 'behind') entry.behind++;
    sources.set(to, entry);
  }
  return [...sources.values()].sort((a, b) => b.behind - a.behind || (a.path < b.path ? -1 : 1));
}

/**
 * What a source's newest version means for its files.
 * @returns null while shapes are still being prepared
 * @throws SplitError; Part21Error for a source that cannot be read
 */
export async function makeFollowOutline(
  db: Database,
  projectId: string,
  project: Project,
  path: string,
): Promise<FollowOutline | null> {
  const measured = await measuredBodies(db, project.files.get(path)!.sha256);
  if (!measured) return null;
  const ties = tiesTo(project, path);
  const ofComponents = new Map<string, Measured>();
  for (const { path: component } of ties.components) {
    const own = await measuredBodies(db, project.files.get(component)!.sha256);
    if (!own) return null;
    ofComponents.set(component, own);
  }
  // The version that was taken, if it was ever here: it tells whether a component was changed since.
  const taken = ties.components[0]?.memory.sha256 ?? null;
  const older = taken === null ? undefined : await measuredBodies(db, taken);
  const source = await openSource(new ProjectFileSet(db, projectId), path);
  return outlineFollow(project, source, measured, (component) => ofComponents.get(component)!, older);
}
