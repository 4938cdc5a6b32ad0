import { type Project, startingPoints } from '#core/project/scan/project';
import type { Database } from '#server/db/connection';
import { enqueue } from './queue';
import type { ShapeState } from './shapes';

/** More would crowd the list of projects. */
const MOST_ROOTS = 3;

/** The assemblies of a project that have a portrait. */
export function portraitRoots(project: Project): string[] {
  return startingPoints(project).slice(0, MOST_ROOTS);
}

/** What portraits of a project show: another revision, or more shapes, and they are drawn anew. */
export function portraitState(
  revision: number,
  shapes: ReadonlyMap<string, Pick<ShapeState, 'state'>>,
): string {
  const there = [...shapes.values()].filter(({ state }) => state === 'done').length;
  return `${revision} ${there}`;
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
