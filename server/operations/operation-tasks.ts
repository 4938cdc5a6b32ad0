import { z } from 'zod';
import { checkSeen, SeenVersion } from '#core/change/seen';
import { type PlanContext, type Planned, planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import { Refusal } from '#core/refusal';
import { shapesOf } from '#server/jobs/shapes';
import { taskKind } from '#server/jobs/tasks';
import { applyInTask } from '#server/projects/apply-in-task';
import { type AppliedChange, type PlannedView, plannedView } from '#server/views/planned-view';
import { previewView } from '#server/views/previews';
import { contextFor, type PlanRequest } from './context';

/** An operation and what was chosen for it, as pages ask for it. */
export const OperationRequest = z.object({ operation: z.string().max(40), choices: z.unknown() });
export type OperationRequest = z.infer<typeof OperationRequest>;

const ApplyRequest = OperationRequest.extend({ seen: z.array(SeenVersion) });

/** What an operation would do. Nothing changes. */
export async function planFor(
  request: PlanRequest,
  { operation, choices }: OperationRequest,
): Promise<PlannedView> {
  const { context } = await contextFor({ ...request, isSketch: true });
  const planned = await planOperation(known(operation), context, choices);
  return plannedView({ ...planned, preview: await viewOf(request, operation, context, planned) });
}

/** Plans an operation for its page. */
export const PLAN = taskKind<OperationRequest, PlannedView>({
  role: 'viewer',
  request: OperationRequest,
  async run(task, request) {
    await task.finish(await planFor(task, request));
  },
});

/** Carries an operation out as its page showed it. The route asks for the role that the operation needs. */
export const APPLY = taskKind<z.infer<typeof ApplyRequest>, AppliedChange & { preview: unknown }>({
  role: 'viewer',
  request: ApplyRequest,
  async run(task, { operation, choices, seen }) {
    const { context, files } = await contextFor(task);
    const planned = await planOperation(known(operation), context, choices);
    checkSeen(seen, planned.seen);
    if (planned.change.changes.length === 0)
      throw new Refusal('There is nothing to change any more: the files are as they would become.');
    const preview = await viewOf(task, operation, context, planned);
    await applyInTask(task, files, planned.change, { preview });
  },
});

function viewOf(
  { db, project: projectId }: PlanRequest,
  operation: string,
  { project }: PlanContext,
  { preview }: Planned<unknown>,
): Promise<unknown> {
  return previewView(operation, preview, { project, projectId, shapes: () => shapesOf(db, project) });
}

function known(name: string) {
  const operation = operationNamed(name);
  if (!operation) throw new Refusal(`There is no operation ${name}.`);
  return operation;
}
