import { additionsOf } from '#core/follow/additions';
import {
  type ComponentContent,
  type FollowOutline,
  outlineFollow,
  type TakenVersion,
} from '#core/follow/outline';
import { type Ties, tiesTo } from '#core/follow/ties';
import { Part21File } from '#core/part21/file';
import type { Project } from '#core/scan/project';
import { openSource } from '#core/split/plan';
import type { Database } from '#server/db/connection';
import { measuredBodies } from '#server/jobs/shapes';
import { ProjectFileSet } from './project-files';
import { scanStored } from './project-scan';

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
  const files = new ProjectFileSet(db, projectId);
  const contents = new Map<string, ComponentContent>();
  for (const { path: component, link } of ties.components) {
    const own = await measuredBodies(db, project.files.get(component)!.sha256);
    if (!own) return null;
    const additions =
      link.state === 'behind' ? additionsOf(Part21File.read(await files.read(component))) : [];
    contents.set(component, { measured: own, additions });
  }
  const taken = await takenVersions(db, path, ties);
  return outlineFollow(
    project,
    await openSource(files, path),
    measured,
    (component) => contents.get(component)!,
    taken,
  );
}

/** The versions of a source that were taken, if they were ever here: they tell what was changed since. */
async function takenVersions(
  db: Database,
  path: string,
  { assembly, components }: Ties,
): Promise<Map<string, TakenVersion>> {
  const hashes = new Set([assembly?.link.source?.sha256, ...components.map(({ memory }) => memory.sha256)]);
  const present: { sha256: string }[] = await db('blobs')
    .whereIn(
      'sha256',
      [...hashes].filter((hash) => typeof hash === 'string'),
    )
    .select('sha256');
  const versions = new Map<string, TakenVersion>();
  for (const { sha256 } of present) {
    const { products } = await scanStored(db, path, sha256);
    const measured = (await measuredBodies(db, sha256)) ?? undefined;
    versions.set(sha256, { measured, bodies: products.flatMap(({ bodies }) => bodies) });
  }
  return versions;
}
