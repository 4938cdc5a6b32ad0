import { data } from 'react-router';
import { z } from 'zod';
import { listsIn, MOST_CHOSEN, mostElements } from '#core/misfit';
import { costOf } from '#core/operation';
import { operationNamed, reportNamed } from '#core/operations';
import { SeenVersion } from '#core/project/change/seen';
import { refusalOf } from '#core/refusal';
import type { LookedAt } from '#core/report';
import { answerInProject, type ProjectAccess, type Role, requireRole } from '#server/auth/guard';
import { ownerOf, startLooking, startTask, waitForTask } from '#server/jobs/tasks';
import { OperationRequest, planFor } from '#server/operations/operation-tasks';
import { LookRequest, lookFor } from '#server/operations/report-task';
import { sentJson } from '#server/sent';
import type { PlannedView } from '#server/views/operations/planned-view';
import type { Route } from './+types/operations';

/** A slow plan is mostly there by then: the page need not ask again. Milliseconds. */
const PATIENCE = 800;

/** By what name a task shall be known, and whether it is made anew although it was made before. */
const TASK = { task: z.uuid().optional(), fresh: z.boolean().optional() };

const Asked = z.discriminatedUnion('intent', [
  OperationRequest.extend({ intent: z.literal('plan'), ...TASK }),
  OperationRequest.extend({
    intent: z.literal('apply'),
    ...TASK,
    seen: z.array(SeenVersion).max(MOST_CHOSEN),
  }),
  LookRequest.extend({ intent: z.literal('look'), ...TASK }),
]);

/**
 * The one address of all operations and reports. `plan` shows what one would do, which every member may see: the plan itself, why there can be
 * none (an answer like any other, however long it took), or the task that makes it. `apply` has the job worker carry it out as it was shown, and needs the operation's role.
 * `look` is what a report finds.
 */
export const action = answerInProject('viewer', async (access, { request }: Route.ActionArgs) => {
  const name = new URL(request.url).searchParams.get('for') ?? '';
  const known = operationNamed(name) ?? reportNamed(name);
  if (!known) throw data(NOT_KNOWN, { status: 400 });
  const asked = await sentJson(request, Asked, mostBytesFor(known, access.role));
  if ((asked.intent === 'look' ? asked.report : asked.operation) !== name)
    throw data(NOT_KNOWN, { status: 400 });
  const { task: id, fresh: isFresh, ...wish } = asked;
  const { revision } = access.project;
  const { db } = access;
  const owner = ownerOf(access);
  if (wish.intent === 'apply') {
    const { intent: _, ...wanted } = wish;
    requireRole(access, known.role);
    return Response.json({ task: await startTask(db, owner, 'apply', wanted, id) });
  }
  if (wish.intent === 'look') {
    const { intent: _, ...wanted } = wish;
    if (known.cost === 'quick')
      return answered(async () => ({ looked: await lookFor({ db, ...owner }, wanted) }));
    const task = await startLooking(db, owner, 'look', wanted, { id, revision, isFresh });
    return whenEnded<LookedAt>(access, task, (looked) => ({ looked }));
  }
  const { intent: _, ...wanted } = wish;
  if (costOf(known, wanted.choices) === 'quick')
    return answered(async () => ({ planned: (await planFor({ db, ...owner }, wanted)).view }));
  const task = await startLooking(db, owner, 'plan', wanted, { id, revision, isFresh });
  return whenEnded<PlannedView>(access, task, (planned) => ({ planned }));
});

const NOT_KNOWN = 'What was asked for cannot be read. Reload the page and choose again.';

/** Bytes of what is asked: where files or bodies may be named by the thousand, and where they may not. */
const [MANY_BYTES, FEW_BYTES] = [16 * 1024 * 1024, 256 * 1024];
/** Of those who may look only. */
const LOOKING_BYTES = 1024 * 1024;

/** How much may be sent for an operation or a report, by what it lets one choose, and by who asks. */
function mostBytesFor({ choices }: { choices: z.ZodType }, role: Role): number {
  const namesMany = listsIn(choices).some(({ schema }) => mostElements(schema) > 1000);
  return Math.min(namesMany ? MANY_BYTES : FEW_BYTES, role === 'viewer' ? LOOKING_BYTES : MANY_BYTES);
}

/** What was made at once, or why it cannot be. */
async function answered(make: () => Promise<object>): Promise<Response> {
  try {
    return Response.json(await make());
  } catch (error) {
    const words = refusalOf(error);
    if (words === undefined) throw error;
    return Response.json({ refused: words });
  }
}

/** What came of a task, if that is soon; else the task. */
async function whenEnded<Result>(
  access: ProjectAccess,
  task: string,
  told: (result: Result | null) => object,
): Promise<Response> {
  const state = await waitForTask<Result>(access.db, ownerOf(access), task, PATIENCE);
  if (state?.state === 'done') return Response.json(told(state.result));
  if (state?.state === 'failed') return Response.json({ refused: state.error });
  return Response.json({ task });
}
