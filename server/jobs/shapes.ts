import { extensionOf } from '#core/files/links/paths';
import type { BodyFacts } from '#core/geometry/shape/body';
import type { ExactBody } from '#core/geometry/shape/exact';
import type { ShapeFeature } from '#core/geometry/shape/features';
import { type GeometryOfBody, unpackGltf } from '#core/geometry/shape/gltf';
import { KERNEL_VERSION } from '#core/geometry/shape/kernel';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { countPlacings } from '#core/project/scan/counts';
import { type Project, rootsOf } from '#core/project/scan/project';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { enqueueAll } from './queue';

/** So many rows are written with one statement. */
const ROWS = 500;

/** Which shapes are meant: made by this kernel, for display. */
export const SHAPE_KEY = { kernel: KERNEL_VERSION, quality: 'display' };

/** What is known of a body's shape; `error` when the kernel refused it. */
export interface BodyShapeFacts {
  body: number;
  facts?: BodyFacts;
  error?: string;
}

/** The ending of a file that has the content of a row of shapes, by which its format is told: a column of that name. */
export function extensionOfContent(db: Database) {
  return db.raw(
    `(select substring(path from '[^.]*$') from files where files.sha256 = shapes.sha256 limit 1) as extension`,
  );
}

/** State of one content's shapes. */
export interface ShapeState {
  sha256: string;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  done: number;
  total: number;
  gltf: string | null;
  bodies: BodyShapeFacts[] | null;
  error: string | null;
  /** What there is of another version while there is nothing of this one: made by an older kernel, or of an older content. */
  other?: { sha256: string; gltf: string; bodies: number[] };
}

/** Shapes of a project's contents, by hash. */
export async function shapesOf(
  db: Database,
  project: Project,
  projectId: string,
): Promise<Map<string, ShapeState>> {
  const hashes = [...new Set([...project.files.values()].map(({ sha256 }) => sha256))];
  const rows: ShapeState[] = await db('shapes')
    .where(SHAPE_KEY)
    .whereRaw('sha256 = any(?)', [hashes])
    .select('sha256', 'state', 'done', 'total', 'gltf', 'bodies', 'error');
  const states = new Map(rows.map((row) => [row.sha256, row]));
  const bare = [...contentsWithBodies(project).keys()].filter((sha256) => isAwaited(states.get(sha256)));
  for (const [sha256, other] of await otherVersions(db, projectId, bare)) {
    const state = states.get(sha256);
    if (state) state.other = other;
  }
  return states;
}

function isAwaited(state: ShapeState | undefined): boolean {
  return !state || state.state === 'waiting' || state.state === 'running';
}

/** The newest pictures there are of the files that some contents belong to. */
async function otherVersions(
  db: Database,
  projectId: string,
  contents: readonly string[],
): Promise<Map<string, NonNullable<ShapeState['other']>>> {
  if (contents.length === 0) return new Map();
  const { rows } = await db.raw<{
    rows: { wanted: string; sha256: string; gltf: string; bodies: BodyShapeFacts[] }[];
  }>(
    `select distinct on (files.sha256) files.sha256 as wanted, shapes.sha256, shapes.gltf, shapes.bodies
     from files
     join versions on versions.file_id = files.file_id
     join shapes on shapes.sha256 = versions.sha256 and shapes.gltf is not null
     where files.project_id = ? and files.sha256 = any(?)
     order by files.sha256, versions.version desc, shapes.time desc`,
    [projectId, [...contents]],
  );
  return new Map(
    rows.map(({ wanted, sha256, gltf, bodies }) => [
      wanted,
      { sha256, gltf, bodies: bodies.map(({ body }) => body) },
    ]),
  );
}

/** How far each of a project's contents is. */
export async function shapeStatesOf(
  db: Database,
  project: Project,
): Promise<Map<string, Pick<ShapeState, 'state'>>> {
  const hashes = [...new Set([...project.files.values()].map(({ sha256 }) => sha256))];
  const rows: Pick<ShapeState, 'sha256' | 'state'>[] = await db('shapes')
    .where(SHAPE_KEY)
    .whereRaw('sha256 = any(?)', [hashes])
    .select('sha256', 'state');
  return new Map(rows.map((row) => [row.sha256, row]));
}

/** What the kernel found out about the bodies of one content, for grouping them; undefined until it has. */
export async function measuredBodies(
  db: Database,
  sha256: string,
): Promise<Map<number, MeasuredBody> | undefined> {
  const row:
    | { bodies: BodyShapeFacts[] | null; features: { [body: string]: ShapeFeature[] } | null }
    | undefined = await db('shapes')
    .where({ ...SHAPE_KEY, sha256 })
    .whereIn('state', ['done', 'failed'])
    .first('bodies', 'features');
  if (!row?.bodies) return undefined;
  return new Map(
    row.bodies.map(({ body, facts, error }) => [body, { facts, error, features: row.features?.[body] }]),
  );
}

/** The meshes of the bodies of one content, out of its picture; undefined until there is one. */
export async function meshesOf(
  db: Database,
  sha256: string,
): Promise<Map<number, GeometryOfBody> | undefined> {
  const row: { gltf: string | null } | undefined = await db('shapes')
    .where({ ...SHAPE_KEY, sha256 })
    .whereIn('state', ['done', 'failed'])
    .first('gltf');
  if (!row) return undefined;
  return row.gltf === null ? new Map() : unpackGltf(await getBlob(db, row.gltf));
}

/** Surfaces and curves of one body of a content that the project has; undefined until they are known. */
export async function exactBody(
  db: Database,
  projectId: string,
  { sha256, gltf, body }: { sha256: string; gltf: string; body: string },
): Promise<ExactBody | undefined> {
  const row: { exact: ExactBody | null } | undefined = await db('shapes')
    .where({ sha256, gltf })
    .whereExists(db('versions').select(1).where({ project_id: projectId, sha256 }))
    .first(db.raw('exact -> ? as exact', [body]));
  return row?.exact ?? undefined;
}

/** How many of some contents the kernel is through with. */
export async function measuredContents(db: Database, hashes: readonly string[]): Promise<number> {
  const [{ count }] = (await db('shapes')
    .where(SHAPE_KEY)
    .whereRaw('sha256 = any(?)', [[...hashes]])
    .whereIn('state', ['done', 'failed'])
    .whereNotNull('bodies')
    .count('* as count')) as [{ count: string }];
  return Number(count);
}

/** The contents of a project that hold bodies, each with the ending of its file. */
export function contentsWithBodies(project: Project): Map<string, string> {
  const found = new Map<string, string>();
  for (const { path, sha256, scan } of project.files.values())
    if (scan.products.some(({ bodies }) => bodies.length > 0)) found.set(sha256, extensionOf(path));
  return found;
}

/** What is placed more often than this is not more urgent for it. */
const MOST_URGENT = 1_000_000;

/**
 * Queues the meshing of every STEP content of a project that has bodies and no shapes yet: first what is seen most often.
 * @returns how many
 */
export async function requestShapes(db: Database, project: Project): Promise<number> {
  const wanted = contentsWithBodies(project);
  const placings = countPlacings(project, rootsOf(project));
  const urgency = new Map<string, number>();
  for (const { path, sha256 } of project.files.values())
    urgency.set(sha256, Math.max(urgency.get(sha256) ?? 0, placings.get(path) ?? 0));
  const known = await db('shapes')
    .where(SHAPE_KEY)
    .whereRaw('sha256 = any(?)', [[...wanted.keys()]])
    .select('sha256');
  for (const { sha256 } of known) wanted.delete(sha256);
  const rows = [...wanted.keys()].map((sha256) => ({ ...SHAPE_KEY, sha256, state: 'waiting' }));
  const asked = [...wanted].map(([sha256, extension]) => ({
    data: { sha256, extension },
    key: sha256,
    priority: Math.min(MOST_URGENT, urgency.get(sha256)!),
  }));
  await db.transaction(async (trx) => {
    for (let at = 0; at < rows.length; at += ROWS)
      await trx('shapes')
        .insert(rows.slice(at, at + ROWS))
        .onConflict()
        .ignore();
    await enqueueAll('shape', asked, trx);
  });
  return wanted.size;
}

/** Stops the meshing that waits or runs for a project's contents. */
export async function cancelShapes(db: Database, project: Project): Promise<void> {
  const hashes = [...new Set([...project.files.values()].map(({ sha256 }) => sha256))];
  await db('shapes')
    .where(SHAPE_KEY)
    .whereRaw('sha256 = any(?)', [[...hashes]])
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'cancelled' });
}

/** Starts again what was cancelled or failed. */
export async function retryShapes(db: Database, project: Project): Promise<void> {
  const hashes = [...new Set([...project.files.values()].map(({ sha256 }) => sha256))];
  await db('shapes')
    .where(SHAPE_KEY)
    .whereRaw('sha256 = any(?)', [[...hashes]])
    .whereIn('state', ['cancelled', 'failed'])
    .delete();
  await requestShapes(db, project);
}
