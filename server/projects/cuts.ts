import { z } from 'zod';
import type { ChangeSet } from '#core/change/change-set';
import { kernelUnitOf } from '#core/cut/pieces';
import { CutChoices, planCut, refuseAssembly } from '#core/cut/plan';
import { catchingPoints } from '#core/cut/snaps';
import { planningOn } from '#core/operation';
import type { Body } from '#core/product/structure';
import { Refusal } from '#core/refusal';
import type { BodyFacts } from '#core/shape/body';
import { CutError } from '#core/shape/cut';
import { packGltf } from '#core/shape/gltf';
import { SourcePart } from '#core/split/source-part';
import { getBlob, putBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { type Owner, taskKind } from '#server/jobs/tasks';
import type { AppliedChange } from '#server/views/planned-view';
import { applyInTask } from './apply-in-task';
import { ProjectFileSet } from './project-files';
import { loadProject } from './project-scan';

/** mm: farther than any part reaches. */
const Coordinate = z.number().min(-1e8).max(1e8);
const Point = z.tuple([Coordinate, Coordinate, Coordinate]);
const FaceOf = z.object({ of: z.union([z.int(), z.string().max(200)]), face: z.int().min(0) });

/** The cuts that somebody asks for, one after the other. */
const CutSteps = z
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

/** The pieces of a body that was cut. */
export interface CutResult {
  pieces: StoredPiece[];
  /** Hash of their picture. */
  gltf: string;
}

/** Cuts a body and keeps the pieces for a day. Nothing in the project changes. */
export const CUT = taskKind<z.infer<typeof CutRequest>, CutResult>({
  role: 'editor',
  request: CutRequest,
  async run({ db, project, kernel, signal, report, finish }, { file, sha256, body: number, steps }) {
    if ((await loadProject(db, project)).files.get(file)?.sha256 !== sha256) throw changed(file);
    const { source, body } = bodyOf(file, await getBlob(db, sha256), number);
    const pieces = await kernel
      .cutBody(source.file.bytes, number, steps, kernelUnitOf(source, body), {
        signal,
        onStep: (done, of) => void report('Cutting', done, of).catch(() => {}),
      })
      .catch((error: unknown) => {
        throw error instanceof CutError ? new Refusal(wordsFor(error, steps.length)) : error;
      });
    const gltf = await putBlob(
      db,
      await packGltf(pieces.map(({ mesh, facts, features }, n) => ({ body: n, mesh, facts, features }))),
    );
    const stored: StoredPiece[] = [];
    for (const { path, facts, sliver, features, step, faces } of pieces)
      stored.push({
        path,
        facts,
        sliver,
        snaps: catchingPoints(features),
        step: await putBlob(db, step),
        faces,
      });
    await finish({ pieces: stored, gltf }, { blobs: [gltf, ...stored.map(({ step }) => step)] });
  },
});

function wordsFor({ step, message }: CutError, steps: number): string {
  return step !== null && steps > 1 ? `Cut ${step + 1}: ${message}` : message;
}

/**
 * What would change if the pieces of a cut were kept.
 * @param id the task that cut them
 * @throws Refusal when the cut is not there, or the file has changed since
 */
export async function planStoredCut(
  db: Database,
  owner: Owner,
  id: string,
  choices: CutChoices,
): Promise<{ plan: ChangeSet; files: ProjectFileSet }> {
  const { project: projectId, user } = owner;
  const task = await db('tasks')
    .where({ id, project_id: projectId, user_id: user, kind: 'cut', state: 'done' })
    .first('request', 'result');
  if (!task) throw new Refusal('There is no such cut any more. Cuts are kept for a day; cut again.');
  const { file, sha256, body: number } = task.request as z.infer<typeof CutRequest>;
  const scanned = await loadProject(db, projectId);
  if (scanned.files.get(file)?.sha256 !== sha256) throw changed(file);
  const files = new ProjectFileSet(db, projectId, user);
  const { source, body } = bodyOf(file, await files.read(file), number);
  const pieces = await Promise.all(
    (task.result as CutResult).pieces.map(async ({ path, step, faces }) => ({
      path,
      step: await getBlob(db, step),
      faces,
    })),
  );
  const plan = await planCut(planningOn(scanned, files), { source, body, pieces, choices });
  return { plan, files };
}

/** Keeps the pieces of a cut, as bodies or as components. */
export const KEEP_PIECES = taskKind<{ cut: string; choices: CutChoices }, AppliedChange>({
  role: 'editor',
  request: z.object({ cut: z.uuid(), choices: CutChoices }),
  async run(context, { cut, choices }) {
    const { plan, files } = await planStoredCut(context.db, context, cut, choices);
    await applyInTask(context, files, plan, {});
  },
});

function bodyOf(path: string, bytes: Uint8Array, number: number): { source: SourcePart; body: Body } {
  const source = new SourcePart(path, bytes);
  refuseAssembly(source);
  const body = source.bodies.find(({ id }) => id === number);
  if (!body) throw new Refusal(`${path} has no body #${number}.`);
  return { source, body };
}

function changed(path: string): Refusal {
  return new Refusal(`${path} has changed since this page was loaded. Reload it to cut the new version.`);
}
