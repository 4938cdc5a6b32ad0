import { createHash } from 'node:crypto';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { type Project, startingPoints } from '#core/project/scan/project';
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
 * What portraits show: of each assembly a digest of the contents of all that it places, and which of them have shapes. With another one it is
 * drawn anew. Each file is gone through once for all assemblies that place it.
 */
export function portraitStates(project: Project, shapes: ShapesDone): (path: string) => string {
  const known = new Map<string, string>();
  const stateOf = (path: string): string => {
    let state = known.get(path);
    if (state === undefined) {
      const sha256 = project.files.get(path)?.sha256 ?? '';
      const digest = createHash('sha256').update(`${sha256} ${shapes.get(sha256)?.state === 'done'}`);
      for (const { kind, written, to, state: link } of project.uses.get(path) ?? [])
        if (LINK_KINDS[kind].places && to !== null && link !== 'loop')
          digest.update(`\n${written} ${to} ${stateOf(to)}`);
      state = digest.digest('hex');
      known.set(path, state);
    }
    return state;
  };
  return stateOf;
}

/** Whether each of some assemblies has a portrait of what it is now. */
export function arePortraitsNew(
  project: Project,
  paths: readonly string[],
  shapes: ShapesDone,
  drawn: ReadonlyMap<string, { shows: string }>,
): boolean {
  const stateOf = portraitStates(project, shapes);
  return paths.every((path) => drawn.get(path)?.shows === stateOf(path));
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
