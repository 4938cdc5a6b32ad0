import { createHash } from 'node:crypto';
import { type Project, placedBelow, startingPoints } from '#core/project/scan/project';
import type { Database } from '#server/db/connection';
import { enqueue } from './queue';
import type { ShapeState } from './shapes';

/** More would crowd the list of projects. */
const MOST_ROOTS = 3;

/** So many assemblies of a project are drawn. */
const MOST_ASSEMBLIES = 120;

/** The assemblies of a project that stand in the list of projects. */
export function portraitRoots(project: Project): string[] {
  return startingPoints(project).slice(0, MOST_ROOTS);
}

/** The assemblies of a project that have a portrait: what somebody starts from first. */
export function portraitAssemblies(project: Project): string[] {
  const assemblies = [...project.files.values()].filter(
    ({ scan: { role, error } }) => role === 'assembly' && !error,
  );
  const paths = [...startingPoints(project), ...assemblies.map(({ path }) => path)];
  return [...new Set(paths)].slice(0, MOST_ASSEMBLIES);
}

type ShapesDone = ReadonlyMap<string, Pick<ShapeState, 'state'>>;

/**
 * What a portrait shows: the contents of all that the assembly places, and which of them have shapes. With others it is drawn anew.
 * Linear in the links below.
 */
export function portraitState(project: Project, path: string, shapes: ShapesDone): string {
  const digest = createHash('sha256');
  for (const below of placedBelow(project, [path]).sort()) {
    const sha256 = project.files.get(below)?.sha256 ?? '';
    digest.update(`${below}\0${sha256}\0${shapes.get(sha256)?.state === 'done'}\n`);
  }
  return digest.digest('hex');
}

/** Whether each of some assemblies has a portrait of what it is now. */
export function arePortraitsNew(
  project: Project,
  paths: readonly string[],
  shapes: ShapesDone,
  drawn: ReadonlyMap<string, { shows: string }>,
): boolean {
  return paths.every((path) => drawn.get(path)?.shows === portraitState(project, path, shapes));
}

/** What was drawn, by path: of which state, and whether anything of it has a shape. */
export async function portraitsOf(
  db: Database,
  projectId: string,
): Promise<Map<string, { shows: string; isSeen: boolean }>> {
  const rows: { path: string; shows: string; isSeen: boolean }[] = await db('portraits')
    .where('project_id', projectId)
    .select('path', 'shows', db.raw('image is not null as "isSeen"'));
  return new Map(rows.map(({ path, shows, isSeen }) => [path, { shows, isSeen }]));
}

export async function portraitImage(
  db: Database,
  projectId: string,
  path: string,
): Promise<Buffer | undefined> {
  const row = await db('portraits').where({ project_id: projectId, path }).first('image');
  return row?.image ?? undefined;
}

/** Has the portraits of a project drawn. */
export async function requestPortraits(db: Database, projectId: string): Promise<void> {
  const still = await db('projects').where('id', projectId).first('id');
  if (still) await enqueue('portrait', { projectId }, projectId);
}
