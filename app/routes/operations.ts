import { z } from 'zod';
import { operationNamed } from '#core/operations';
import { SeenVersion } from '#core/project/change/seen';
import { refusalOf } from '#core/refusal';
import { answerInProject, requireRole } from '#server/auth/guard';
import { ownerOf, startTask, waitForTask } from '#server/jobs/tasks';
import { OperationRequest, planFor } from '#server/operations/operation-tasks';
import type { PlannedView } from '#server/views/planned-view';
import type { Route } from './+types/operations';

/** A slow plan is mostly there by then: the page need not ask again. Milliseconds. */
const PATIENCE = 800;

const Asked = z.discriminatedUnion('intent', [
  OperationRequest.extend({ intent: z.literal('plan'), task: z.uuid().optional() }),
  OperationRequest.extend({
    intent: z.literal('apply'),
    task: z.uuid().optional(),
    seen: z.array(SeenVersion),
  }),
]);

/**
 * The one address of all operations. `plan` shows what one would do, which every member may see: the plan itself, why there can be
 * none (an answer like any other, however long it took), or the task that makes it. `apply` has the job worker carry it out as it was shown, and needs the operation's role.
 */
export const action = answerInProject('viewer', async (access, { request }: Route.ActionArgs) => {
  const asked = Asked.safeParse(await request.json().catch(() => null));
  const operation = asked.success ? operationNamed(asked.data.operation) : undefined;
  if (!asked.success || !operation)
    return Response.json(
      { error: 'What was asked for cannot be read. Reload the page and choose again.' },
      { status: 400 },
    );
  const { intent, task: id, ...wanted } = asked.data;
  const { db } = access;
  const owner = ownerOf(access);
  if (intent === 'apply') {
    requireRole(access, operation.role);
    return Response.json({ task: await startTask(db, owner, 'apply', wanted, id) });
  }
  if (operation.cost === 'quick') {
    try {
      const { view } = await planFor({ db, ...owner }, wanted);
      return Response.json({ planned: view });
    } catch (error) {
      const words = refusalOf(error);
      if (words === undefined) throw error;
      return Response.json({ refused: words });
    }
  }
  const task = await startTask(db, owner, 'plan', wanted, id);
  const state = await waitForTask<PlannedView>(db, owner, task, PATIENCE);
  if (state?.state === 'done') return Response.json({ planned: state.result });
  if (state?.state === 'failed') return Response.json({ refused: state.error });
  return Response.json({ task });
});
