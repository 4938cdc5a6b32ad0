import { PublishChoices } from '#core/jobs/publish/choices';
import type { Project } from '#core/project/scan/project';
import type { Database } from '#server/db/connection';
import { filesForOutside, type Publication, publicationsOf } from '#server/projects/catalogue/publications';
import { loadProject } from '#server/projects/scan/project-scan';

/** A file that something offered was made from, and that has changed since. */
export interface MovedSource {
  path: string;
  /** Number of the version that was taken; null where it is not known here. */
  taken: number | null;
  /** Number of the newest; null where the file is gone. */
  newest: number | null;
}

/** What is offered, held against what it was made from. */
export interface OfferedRow extends Pick<Publication, 'id' | 'token' | 'path' | 'title' | 'facts' | 'files'> {
  /** ISO 8601. */
  time: string;
  /** As it is offered, to do the same again. */
  choices: PublishChoices;
  /** Whether the project's file is another by now; gone where there is none. */
  file: 'same' | 'newer' | 'gone';
  moved: MovedSource[];
}

export interface CatalogueView {
  offered: OfferedRow[];
  /** Files that were made for outside and are not offered. */
  others: { path: string }[];
}

/** What a project offers in the catalogue, and what it could. */
export async function catalogueView(db: Database, projectId: string): Promise<CatalogueView> {
  const project = await loadProject(db, projectId);
  const outside = await filesForOutside(db, project);
  const publications = (await publicationsOf(db, projectId)).filter(({ withdrawn }) => withdrawn === null);
  const known = publications.map((publication) => {
    const { path, sha256, madeFrom } = publication;
    const file = project.files.get(path);
    const now = file?.sha256 === sha256 ? outside.find((one) => one.path === path)?.sources : undefined;
    // What the manifest remembers follows where only links were written anew.
    return { publication, sources: now ?? madeFrom ?? [] };
  });
  const moved = await movedSince(
    db,
    project,
    projectId,
    known.flatMap(({ sources }) => sources),
  );
  const offered = known.map(({ publication, sources }): OfferedRow => {
    const { id, token, path, title, facts, files, time, choices, sha256 } = publication;
    const now = project.files.get(path)?.sha256;
    return {
      ...{ id, token, path, title, facts, files },
      time: time.toISOString(),
      choices: PublishChoices.safeParse(choices).data ?? PublishChoices.parse({ file: path, title }),
      file: now === undefined ? 'gone' : now === sha256 ? 'same' : 'newer',
      moved: sources.flatMap((source) => moved(source) ?? []),
    };
  });
  const isOffered = new Set(offered.map(({ path }) => path));
  return { offered, others: outside.flatMap(({ path }) => (isOffered.has(path) ? [] : [{ path }])) };
}

interface Source {
  path: string;
  sha256: string;
}

/** Which of some contents are no longer the newest of their files, wherever those lie by now. */
async function movedSince(db: Database, project: Project, projectId: string, sources: readonly Source[]) {
  const [paths, hashes] = [sources.map(({ path }) => path), sources.map(({ sha256 }) => sha256)];
  // A file is the same one under another path.
  const rows: (Source & { taken: number; pathNow: string; hashNow: string; newest: number })[] = await db(
    'versions',
  )
    .join('files', 'files.file_id', 'versions.file_id')
    .where('versions.project_id', projectId)
    .whereRaw('(versions.path = any(?) or files.path = any(?))', [[...new Set(paths)], [...new Set(paths)]])
    .whereRaw('versions.sha256 = any(?)', [[...new Set(hashes)]])
    .orderBy('versions.version', 'desc')
    .select(
      ...['versions.path', 'versions.sha256', 'versions.version as taken'],
      ...['files.path as pathNow', 'files.sha256 as hashNow', 'files.version as newest'],
    );
  // Of what was published elsewhere the versions are not known here.
  const here: { path: string; version: number }[] = await db('files')
    .where('project_id', projectId)
    .whereRaw('path = any(?)', [[...new Set(paths)]])
    .select('path', 'version');
  return ({ path, sha256 }: Source): MovedSource | null => {
    if (project.files.get(path)?.sha256 === sha256) return null;
    const row = rows.find((one) => (one.path === path || one.pathNow === path) && one.sha256 === sha256);
    if (!row) return { path, taken: null, newest: here.find((file) => file.path === path)?.version ?? null };
    return row.hashNow === sha256 ? null : { path: row.pathNow, taken: row.taken, newest: row.newest };
  };
}
