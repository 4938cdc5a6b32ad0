import { z } from 'zod';
import { MOST_CHOSEN } from '#core/misfit';
import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import type { Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import { checkSeen, SeenVersion } from '#core/project/change/seen';
import { Refusal } from '#core/refusal';
import { holdAs } from '#server/auth/standing';
import { putBlobStream } from '#server/db/arriving';
import { requestShapes } from '#server/jobs/shapes';
import { taskKind } from '#server/jobs/tasks';
import { applyInTask } from '#server/operations/apply-in-task';
import { storeOffer } from '#server/projects/catalogue/publish';
import { writeLog } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { type AppliedChange, type PlannedView, plannedView } from '#server/views/operations/planned-view';
import { contextFor, type PlanRequest } from './context';
import { previewHome } from './preview-home';

/** An operation and what was chosen for it, as pages ask for it. */
export const OperationRequest = z.object({ operation: z.string().max(40), choices: z.unknown() });
export type OperationRequest = z.infer<typeof OperationRequest>;

const ApplyRequest = OperationRequest.extend({ seen: z.array(SeenVersion).max(MOST_CHOSEN) });

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

/** Carries an operation out as its page showed it. The route asks for the role that the operation needs. */
export const APPLY = taskKind<z.infer<typeof ApplyRequest>, AppliedChange & { preview: unknown }>({
  request: ApplyRequest,
  async run(task, { operation, choices, seen }) {
    const { context, files } = await contextFor(task);
    const planned = await planOperation(known(operation), context, choices);
    checkSeen(seen, planned.seen);
    const { change, product, offer, hindrance } = planned;
    if (hindrance !== undefined) throw new Refusal(hindrance);
    const { preview, blobs } = await viewOf(task, operation, context, planned);
    if (product) {
      const { stream } = await product.write();
      const { sha256 } = await putBlobStream(task.db, stream);
      const made = { name: product.name, sha256 };
      const { summary } = change;
      await task.db.transaction(async (trx) => {
        await holdAs(trx, task, 'viewer');
        await writeLog(trx, task.project, task.user, operation, summary);
        const result = { preview, applied: null, summary, product: made };
        await task.finish(result, { within: trx, blobs: [...blobs, sha256] });
      });
      return;
    }
    if (offer) {
      const { path, title } = offer;
      const { sha256 } = context.project.files.get(path)!;
      const made = await offer.write();
      await task.db.transaction(async (trx) => {
        await holdAs(trx, task, 'editor');
        const offered = await storeOffer(trx, task, { ...made, path, title, sha256 });
        await writeLog(trx, task.project, task.user, operation, change.summary);
        const result = { preview, applied: null, summary: change.summary, offered };
        await task.finish(result, { within: trx, blobs });
      });
      return;
    }
    if (change.changes.length === 0)
      throw new Refusal('There is nothing to change any more: the files are as they would become.');
    await applyInTask(task, files, planned.change, { preview }, blobs);
    await requestShapes(task.db, await loadProject(task.db, task.project));
  },
});

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
