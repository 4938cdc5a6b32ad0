import { tiesTo } from '#core/jobs/split/newer/ties';
import type { Project } from '#core/project/scan/project';
import type { Database } from '#server/db/connection';
import { measuredContents } from '#server/jobs/shapes';

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

/** Whether all that has to be compared is measured: the source, and every file that came out of it. */
export async function isMeasured(db: Database, project: Project, path: string): Promise<boolean> {
  const files = [path, ...tiesTo(project, path).components.map((component) => component.path)];
  const hashes = new Set(files.map((file) => project.files.get(file)!.sha256));
  return (await measuredContents(db, [...hashes])) === hashes.size;
}
