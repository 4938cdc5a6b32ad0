import { z } from 'zod';
import { MOST_CHOSEN } from '#core/misfit';
import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import type { Offer, Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import { ConflictError } from '#core/project/change/change-set';
import { checkSeen, checkUnchanged, SeenVersion } from '#core/project/change/seen';
import { Refusal } from '#core/refusal';
import { holdAs } from '#server/auth/standing';
import { putBlobStream } from '#server/db/arriving';
import { requestShapes } from '#server/jobs/shapes';
import { type TaskContext, taskKind } from '#server/jobs/tasks';
import { applyInTask } from '#server/operations/apply-in-task';
import { storeOffer, type WrittenOffer } from '#server/projects/catalogue/publish';
import { restoreProject } from '#server/projects/life/restore';
import { writeLog } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { type AppliedChange, type PlannedView, plannedView } from '#server/views/operations/planned-view';
import { contextFor, type PlanRequest } from './context';
import { previewHome } from './preview-home';

/** An operation and what was chosen for it, as pages ask for it. */
export const OperationRequest = z.object({ operation: z.string().max(40), choices: z.unknown() });
export type OperationRequest = z.infer<typeof OperationRequest>;

const ApplyRequest = OperationRequest.extend({ seen: z.array(SeenVersion).max(MOST_CHOSEN) });
type ApplyRequest = z.infer<typeof ApplyRequest>;

/** What a page is told of what was done. */
type Applied = AppliedChange & { preview: unknown };

/** What an operation would do, and what is kept for its page. Nothing changes. */
export async function planFor(
  request: PlanRequest,
  { operation, choices }: OperationRequest,
): Promise<{ view: PlannedView; blobs: string[] }> {
  const { context, stored } = await contextFor({ ...request, isSketch: true });
  const planned = await planOperation(known(operation), context, choices);
  const { preview, blobs } = await viewOf(request, operation, context, planned);
  return { view: plannedView({ ...planned, preview }), blobs: [...blobs, ...stored] };
}

/** Plans an operation for its page. */
export const PLAN = taskKind<OperationRequest, PlannedView>({
  request: OperationRequest,
  async run(task, request) {
    const { view, blobs } = await planFor(task, request);
    await task.finish(view, { blobs });
  },
});

/** So often a change is planned anew because others changed something else meanwhile. */
const MOST_ATTEMPTS = 10;

/** Carries an operation out as its page showed it. The route asks for the role that the operation needs. */
export const APPLY = taskKind<ApplyRequest, Applied>({
  request: ApplyRequest,
  async run(task, request) {
    for (let attempt = 1; ; attempt++) {
      try {
        await applyOnce(task, request);
        return;
      } catch (error) {
        // Planned anew, it is refused if what was seen is what has changed, and otherwise takes its turn after the others.
        if (!(error instanceof OvertakenError) || attempt === MOST_ATTEMPTS) throw error;
      }
    }
  },
});

/** Others changed something between planning and applying. */
class OvertakenError extends ConflictError {}

async function applyOnce(
  task: TaskContext<Applied>,
  { operation, choices, seen }: ApplyRequest,
): Promise<void> {
  const { context, files } = await contextFor(task);
  const planned = await planOperation(known(operation), context, choices).catch((error) => {
    if (error instanceof Refusal) checkUnchanged(seen, (path) => context.project.files.get(path)?.sha256);
    throw error;
  });
  checkSeen(seen, planned.seen);
  const { change, product, offers, hindrance } = planned;
  if (hindrance !== undefined) throw new Refusal(hindrance);
  const { preview, blobs } = await viewOf(task, operation, context, planned);
  if (product) return handOut(task, operation, change.summary, product, { preview, blobs });
  const written = await writeOffers(offers ?? []);
  if (offers && change.changes.length === 0)
    return makeOffers(task, operation, change.summary, written, { preview, blobs });
  if (planned.restores) {
    const { restores } = planned;
    await restoreProject(task.db, task, restores, (trx, summary) =>
      task.finish({ preview, applied: null, summary }, { within: trx, blobs }),
    );
    await requestShapes(task.db, await loadProject(task.db, task.project));
    return;
  }
  if (change.changes.length === 0)
    throw new Refusal('There is nothing to change any more: the files are as they would become.');
  try {
    await applyInTask(task, files, change, { preview }, blobs, async (trx) => {
      for (const offer of written) await storeOffer(trx, task, offer);
    });
  } catch (error) {
    throw error instanceof ConflictError ? new OvertakenError(error.conflicts) : error;
  }
  await requestShapes(task.db, await loadProject(task.db, task.project));
}

/** What goes along with the end of a task. */
interface Shown {
  preview: unknown;
  blobs: string[];
}

/** Ends a task with a file that is handed out; nothing changes. */
async function handOut(
  task: TaskContext<Applied>,
  operation: string,
  summary: string,
  product: NonNullable<Planned<unknown>['product']>,
  { preview, blobs }: Shown,
): Promise<void> {
  const { stream } = await product.write();
  const { sha256 } = await putBlobStream(task.db, stream);
  const made = { name: product.name, sha256 };
  await task.db.transaction(async (trx) => {
    await holdAs(trx, task, 'viewer');
    await writeLog(trx, task.project, task.user, operation, summary, product.of);
    const result = { preview, applied: null, summary, product: made };
    await task.finish(result, { within: trx, blobs: [...blobs, sha256] });
  });
}

async function writeOffers(offers: readonly Offer[]): Promise<WrittenOffer[]> {
  const written: WrittenOffer[] = [];
  for (const { write, ...offer } of offers) written.push({ ...offer, ...(await write()) });
  return written;
}

/** Ends a task with what is offered to others; nothing in the project changes. */
async function makeOffers(
  task: TaskContext<Applied>,
  operation: string,
  summary: string,
  written: readonly WrittenOffer[],
  { preview, blobs }: Shown,
): Promise<void> {
  await task.db.transaction(async (trx) => {
    await holdAs(trx, task, 'editor');
    const tokens: string[] = [];
    for (const offer of written) tokens.push(await storeOffer(trx, task, offer));
    await writeLog(trx, task.project, task.user, operation, summary, written[0]?.path);
    await task.finish({ preview, applied: null, summary, offered: tokens[0] }, { within: trx, blobs });
  });
}

async function viewOf(
  request: PlanRequest,
  operation: string,
  { project }: PlanContext,
  { preview }: Planned<unknown>,
): Promise<{ preview: unknown; blobs: string[] }> {
  const { view } = known(operation);
  if (!view) return { preview, blobs: [] };
  const { home, blobs } = previewHome(request, project);
  return { preview: await view(preview, home), blobs };
}

function known(name: string) {
  const operation = operationNamed(name);
  if (!operation) throw new Refusal(`There is no operation ${name}.`);
  return operation;
}
