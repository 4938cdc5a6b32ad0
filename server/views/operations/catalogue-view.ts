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
    return { publication, sources: madeFrom ?? now ?? [] };
  });
  const movedSources = known.flatMap(({ sources }) => sources.filter((source) => hasMoved(project, source)));
  const numbers = await versionNumbers(db, projectId, movedSources);
  const offered = known.map(({ publication, sources }): OfferedRow => {
    const { id, token, path, title, facts, files, time, choices, sha256 } = publication;
    const now = project.files.get(path)?.sha256;
    return {
      ...{ id, token, path, title, facts, files },
      time: time.toISOString(),
      choices: PublishChoices.safeParse(choices).data ?? PublishChoices.parse({ file: path, title }),
      file: now === undefined ? 'gone' : now === sha256 ? 'same' : 'newer',
      moved: sources
        .filter((source) => hasMoved(project, source))
        .map((source) => ({ path: source.path, ...numbers(source) })),
    };
  });
  const isOffered = new Set(offered.map(({ path }) => path));
  return { offered, others: outside.flatMap(({ path }) => (isOffered.has(path) ? [] : [{ path }])) };
}

type Source = { path: string; sha256: string };

function hasMoved(project: Project, { path, sha256 }: Source): boolean {
  return project.files.get(path)?.sha256 !== sha256;
}

/** Which versions of their files some contents are, and which are the newest. */
async function versionNumbers(db: Database, projectId: string, sources: readonly Source[]) {
  const paths = [...new Set(sources.map(({ path }) => path))];
  const rows: { path: string; newest: number; sha256: string; version: number }[] = await db('files')
    .join('versions', 'versions.file_id', 'files.file_id')
    .where('files.project_id', projectId)
    .whereRaw('files.path = any(?)', [paths])
    .whereRaw('versions.sha256 = any(?)', [[...new Set(sources.map(({ sha256 }) => sha256))]])
    .select('files.path', 'files.version as newest', 'versions.sha256', 'versions.version');
  const newest: { path: string; version: number }[] = await db('files')
    .where('project_id', projectId)
    .whereRaw('path = any(?)', [paths])
    .select('path', 'version');
  return ({ path, sha256 }: Source): Pick<MovedSource, 'taken' | 'newest'> => {
    const taken = rows.filter((row) => row.path === path && row.sha256 === sha256);
    return {
      taken: taken.length > 0 ? Math.max(...taken.map(({ version }) => version)) : null,
      newest: newest.find((file) => file.path === path)?.version ?? null,
    };
  };
}
