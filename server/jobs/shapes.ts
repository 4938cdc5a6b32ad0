import { extensionOf } from '#core/links/paths';
import type { Project } from '#core/scan/project';
import type { BodyFacts } from '#core/shape/body';
import type { ShapeFeature } from '#core/shape/features';
import { KERNEL_VERSION } from '#core/shape/kernel';
import type { MeasuredBody } from '#core/shape/placed-shape';
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

/** State of one content's shapes. */
export interface ShapeState {
  sha256: string;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  done: number;
  total: number;
  gltf: string | null;
  bodies: BodyShapeFacts[] | null;
  error: string | null;
}

/** Shapes of a project's contents, by hash. */
export async function shapesOf(db: Database, project: Project): Promise<Map<string, ShapeState>> {
  const hashes = [...new Set([...project.files.values()].map(({ sha256 }) => sha256))];
  const rows: ShapeState[] = await db('shapes')
    .where(SHAPE_KEY)
    .whereIn('sha256', hashes)
    .select('sha256', 'state', 'done', 'total', 'gltf', 'bodies', 'error');
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

/** How many of some contents the kernel is through with. */
export async function measuredContents(db: Database, hashes: readonly string[]): Promise<number> {
  const [{ count }] = (await db('shapes')
    .where(SHAPE_KEY)
    .whereIn('sha256', hashes)
    .whereIn('state', ['done', 'failed'])
    .whereNotNull('bodies')
    .count('* as count')) as [{ count: string }];
  return Number(count);
}

/** The contents of a project that hold bodies, each with the ending of its file. */
export function contentsWithBodies(project: Project): Map<string, string> {
  const found = new Map<string, string>();
  for (const { path, sha256, scan } of project.files.values())
    if (scan.format === 'step' && scan.products.some(({ bodies }) => bodies.length > 0))
      found.set(sha256, extensionOf(path));
  return found;
}

/** Queues the meshing of every STEP content of a project that has bodies and no shapes yet. @returns how many */
export async function requestShapes(db: Database, project: Project): Promise<number> {
  const wanted = contentsWithBodies(project);
  const known = await db('shapes')
    .where(SHAPE_KEY)
    .whereRaw('sha256 = any(?)', [[...wanted.keys()]])
    .select('sha256');
  for (const { sha256 } of known) wanted.delete(sha256);
  const rows = [...wanted.keys()].map((sha256) => ({ ...SHAPE_KEY, sha256, state: 'waiting' }));
  for (let at = 0; at < rows.length; at += ROWS)
    await db('shapes')
      .insert(rows.slice(at, at + ROWS))
      .onConflict()
      .ignore();
  await enqueueAll(
    'shape',
    [...wanted].map(([sha256, extension]) => ({ data: { sha256, extension }, key: sha256 })),
  );
  return wanted.size;
}

/** Stops the meshing that waits or runs for a project's contents. */
export async function cancelShapes(db: Database, project: Project): Promise<void> {
  const hashes = [...new Set([...project.files.values()].map(({ sha256 }) => sha256))];
  await db('shapes')
    .where(SHAPE_KEY)
    .whereIn('sha256', hashes)
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'cancelled' });
}

/** Starts again what was cancelled or failed. */
export async function retryShapes(db: Database, project: Project): Promise<void> {
  const hashes = [...new Set([...project.files.values()].map(({ sha256 }) => sha256))];
  await db('shapes')
    .where(SHAPE_KEY)
    .whereIn('sha256', hashes)
    .whereIn('state', ['cancelled', 'failed'])
    .delete();
  await requestShapes(db, project);
}
