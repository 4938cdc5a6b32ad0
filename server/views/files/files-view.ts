import { stateCounts } from '#core/files/links/resolve';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { ownProducts } from '#core/project/scan/content';
import { belongingFiles, type Project, type ScannedFile } from '#core/project/scan/project';
import type { Steps } from '#core/steps';
import type { ProjectAccess } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { contentsWithBodies, type ShapeState } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { type FileRow, type FilesPart, packRowSteps } from '#server/views/packed/packed-rows';
import { withPictures } from './file-picture';
import { fileToWorkOn } from './file-to-work-on';

/** A part of the table of files, in the order of their paths. Linear in the files of the project, and in the links of those that are sent. */
export async function filesPart(
  { db, project }: Pick<ProjectAccess, 'db' | 'project'>,
  from: number,
  most: number,
): Promise<FilesPart> {
  const scanned = await loadProject(db, project.id);
  const versions: { path: string; version: number }[] = await db('files')
    .where('project_id', project.id)
    .select('path', 'version');
  const versionOf = new Map(versions.map(({ path, version }) => [path, version]));
  const files = [...scanned.files.values()].slice(from, from + most);
  const pictured = await withPictures(db, project.id, files);
  const rows = await inTurns(rowSteps(scanned, files, versionOf, pictured));
  return { text: await inTurns(packRowSteps(rows)), total: scanned.files.size, revision: project.revision };
}

/** Files as rows of the table. */
export function* rowSteps(
  project: Project,
  files: readonly ScannedFile[],
  versionOf: ReadonlyMap<string, number>,
  pictured: ReadonlySet<string>,
): Steps<FileRow[]> {
  const belonging = belongingFiles(project);
  const rows: FileRow[] = [];
  for (const file of files) {
    if (rows.length % RESTS === 0) yield;
    const { path, bytes, scan } = file;
    const uses = project.uses.get(path) ?? [];
    rows.push({
      ...fileToWorkOn(project, file),
      product: ownProducts(scan).at(0)?.name ?? '',
      unit: scan.unit,
      bytes,
      version: versionOf.get(path) ?? 1,
      links: stateCounts(uses),
      usedBy: new Set(usersOf(project, path)).size,
      about: uses.find(({ kind }) => LINK_KINDS[kind].isAbout)?.to ?? null,
      unused: !belonging.has(path),
      hasPicture: pictured.has(path),
      error: scan.error,
      damage: scan.damage,
    });
  }
  return rows;
}

/** So many files between rests. */
const RESTS = 64;

function usersOf(project: Project, path: string): string[] {
  return (project.usedBy.get(path) ?? []).flatMap(({ holder, kind }) =>
    LINK_KINDS[kind].isAbout ? [] : [holder],
  );
}

/** How far the preparation of shapes is, in contents. */
export interface ShapeProgress {
  total: number;
  open: number;
  /** Cancelled ones wait, like failed ones, to be tried again. */
  failed: number;
  /** Those that nobody has asked for yet. */
  unasked: number;
}

export function shapeProgress(
  project: Project,
  shapes: ReadonlyMap<string, Pick<ShapeState, 'state'>>,
): ShapeProgress {
  const states = [...shapes.values()].map(({ state }) => state);
  return {
    total: states.length,
    open: states.filter((state) => state === 'waiting' || state === 'running').length,
    failed: states.filter((state) => state === 'failed' || state === 'cancelled').length,
    unasked: [...contentsWithBodies(project).keys()].filter((sha256) => !shapes.has(sha256)).length,
  };
}
