import { z } from 'zod';
import type { ChangeSet } from '#core/change/change-set';
import { kernelUnitOf } from '#core/cut/pieces';
import { type CutChoices, planCut } from '#core/cut/plan';
import { catchingPoints } from '#core/cut/snaps';
import type { Body } from '#core/product/structure';
import { CutError, type CutStep } from '#core/shape/cut';
import { packGltf } from '#core/shape/gltf';
import type { BodyFacts, Kernel } from '#core/shape/kernel';
import { SourcePart, SplitError } from '#core/split/source-part';
import type { Database } from '#server/db/connection';
import { enqueue } from '#server/jobs/queue';
import { dropUnused, getBlob, putBlob } from './blobs';
import { ProjectFileSet } from './project-files';
import { loadProject } from './project-scan';

/** mm: farther than any part reaches. */
const Coordinate = z.number().min(-1e8).max(1e8);
const Point = z.tuple([Coordinate, Coordinate, Coordinate]);
const FaceOf = z.object({ of: z.union([z.int(), z.string().max(200)]), face: z.int().min(0) });

/** The cuts that somebody asks for, one after the other. */
export const CutSteps = z
  .array(
    z.object({
      piece: z.string().max(200),
      cutter: z.discriminatedUnion('kind', [
        z.object({ kind: z.literal('plane'), at: Point, normal: Point }),
        z.object({ kind: z.literal('face'), ...FaceOf.shape }),
        z.object({
          kind: z.literal('line'),
          points: z.array(Point).min(2).max(200),
          along: z.union([Point, FaceOf]),
        }),
      ]),
    }),
  )
  .min(1)
  .max(50);

export const CutRequest = z.object({
  file: z.string(),
  /** The version that the page shows. */
  sha256: z.string(),
  body: z.int(),
  steps: CutSteps,
});

/** A piece as it is kept for the page; its STEP text and its picture are blobs. */
export interface StoredPiece {
  path: string;
  facts: BodyFacts;
  sliver: string | null;
  /** Corners and middles of edges, mm. */
  snaps: [number, number, number][];
  /** Hash of the STEP text. */
  step: string;
  /** For each of its faces, which face of the body it was part of. */
  faces: (number | null)[];
}

export interface CutState {
  id: string;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  /** Steps made so far. */
  done: number;
  steps: CutStep[];
  pieces: StoredPiece[] | null;
  error: string | null;
}

/** Cuts are kept this long for being applied. */
const KEPT_HOURS = 24;

/**
 * Asks for a body to be cut. Nothing in the project changes: the pieces are kept aside for a day.
 * @returns its id
 * @throws SplitError when the file is not what the page shows
 */
export async function startCut(
  db: Database,
  projectId: string,
  userId: string,
  { file, sha256, body, steps }: z.infer<typeof CutRequest>,
): Promise<string> {
  await discardOld(db);
  const current = (await loadProject(db, projectId)).files.get(file)?.sha256;
  if (current !== sha256) throw changed(file);
  const [{ id }] = await db('cuts')
    .insert({
      project_id: projectId,
      user_id: userId,
      path: file,
      sha256,
      body,
      steps: JSON.stringify(steps),
    })
    .returning('id');
  await enqueue('cut', { cutId: id }, id);
  return id;
}

export async function cancelCut(db: Database, projectId: string, userId: string, id: string): Promise<void> {
  await db('cuts')
    .where({ id, project_id: projectId, user_id: userId })
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'cancelled' });
}

/** State of one cut; a person sees their own only. */
export async function cutState(
  db: Database,
  projectId: string,
  userId: string,
  id: string,
): Promise<(CutState & { gltf: string | null }) | undefined> {
  return db('cuts')
    .where({ id, project_id: projectId, user_id: userId })
    .first('id', 'state', 'done', 'steps', 'pieces', 'error', 'gltf');
}

/** Cuts a body and keeps the pieces. Runs in the job worker. */
export async function runCut(db: Database, kernel: Kernel, id: string): Promise<void> {
  const [row] = await db('cuts')
    .where('id', id)
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'running' }, ['path', 'sha256', 'body', 'steps']);
  if (!row) return;
  const {
    path,
    sha256,
    body: number,
    steps,
  } = row as { path: string; sha256: string; body: number; steps: CutStep[] };
  const cancelled = new AbortController();
  // Whoever cancels writes it into the row; a cut that is under way looks there now and then.
  const watch = setInterval(async () => {
    const still = await db('cuts')
      .where({ id, state: 'running' })
      .first('id')
      .catch(() => true);
    if (!still) cancelled.abort();
  }, 500);
  try {
    const { source, body } = bodyOf(path, await getBlob(db, sha256), number);
    let reporting = Promise.resolve();
    const pieces = await kernel.cutBody(source.file.bytes, number, steps, kernelUnitOf(source, body), {
      signal: cancelled.signal,
      onStep: (done) => {
        reporting = reporting.then(async () => {
          await db('cuts').where({ id, state: 'running' }).update({ done });
        });
      },
    });
    await reporting;
    const gltf = await putBlob(
      db,
      await packGltf(pieces.map(({ mesh, facts, features }, n) => ({ body: n, mesh, facts, features }))),
    );
    const stored: StoredPiece[] = [];
    for (const { path: piece, facts, sliver, features, step, faces } of pieces)
      stored.push({
        path: piece,
        facts,
        sliver,
        snaps: catchingPoints(features),
        step: await putBlob(db, step),
        faces,
      });
    await db('cuts')
      .where({ id, state: 'running' })
      .update({ state: 'done', done: steps.length, gltf, pieces: JSON.stringify(stored) });
  } catch (error) {
    if (cancelled.signal.aborted) return;
    await db('cuts')
      .where({ id, state: 'running' })
      .update({ state: 'failed', error: wordsFor(error, steps.length) });
  } finally {
    clearInterval(watch);
  }
}

function wordsFor(error: unknown, steps: number): string {
  const words = error instanceof Error ? error.message : String(error);
  return error instanceof CutError && error.step !== null && steps > 1
    ? `Cut ${error.step + 1}: ${words}`
    : words;
}

/**
 * What would change if the pieces of a cut were kept.
 * @throws SplitError when the cut is not there, or the file has changed since
 */
export async function planStoredCut(
  db: Database,
  projectId: string,
  userId: string,
  id: string,
  choices: CutChoices,
): Promise<{ plan: ChangeSet; files: ProjectFileSet }> {
  const row:
    | { path: string; sha256: string; body: number; state: string; pieces: StoredPiece[] | null }
    | undefined = await db('cuts')
    .where({ id, project_id: projectId, user_id: userId })
    .first('path', 'sha256', 'body', 'state', 'pieces');
  if (row?.state !== 'done' || !row.pieces)
    throw new SplitError('There is no such cut any more. Cuts are kept for a day; cut again.');
  const scanned = await loadProject(db, projectId);
  if (scanned.files.get(row.path)?.sha256 !== row.sha256) throw changed(row.path);
  const files = new ProjectFileSet(db, projectId, userId);
  const { source, body } = bodyOf(row.path, await files.read(row.path), row.body);
  const pieces = await Promise.all(
    row.pieces.map(async ({ path, step, faces }) => ({ path, step: await getBlob(db, step), faces })),
  );
  const time = new Date().toISOString().slice(0, 19);
  return { plan: await planCut(scanned, files, source, body, pieces, choices, time), files };
}

function bodyOf(path: string, bytes: Uint8Array, number: number): { source: SourcePart; body: Body } {
  const source = new SourcePart(path, bytes);
  const body = source.bodies.find(({ id }) => id === number);
  if (!body) throw new SplitError(`${path} has no body #${number}.`);
  return { source, body };
}

function changed(path: string): SplitError {
  return new SplitError(`${path} has changed since this page was loaded. Reload it to cut the new version.`);
}

/** Old cuts go, and their pieces with them. */
async function discardOld(db: Database): Promise<void> {
  const old: { gltf: string | null; pieces: StoredPiece[] | null }[] = await db('cuts')
    .where('time', '<', db.raw(`now() - make_interval(hours => ?)`, [KEPT_HOURS]))
    .delete()
    .returning(['gltf', 'pieces']);
  await dropUnused(
    db,
    old.flatMap(({ gltf, pieces }) => [...(gltf ? [gltf] : []), ...(pieces ?? []).map(({ step }) => step)]),
  );
}
