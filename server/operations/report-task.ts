import { z } from 'zod';
import { reportNamed } from '#core/operations';
import { Refusal } from '#core/refusal';
import { type LookedAt, lookAt } from '#core/report';
import { taskKind } from '#server/jobs/tasks';
import { lookContextFor, type PlanRequest } from './context';

/** A report and what was chosen for it, as pages ask for it. */
export const LookRequest = z.object({ report: z.string().max(40), choices: z.unknown() });
export type LookRequest = z.infer<typeof LookRequest>;

/** What a report finds. */
export async function lookFor(
  request: PlanRequest,
  { report: name, choices }: LookRequest,
): Promise<LookedAt> {
  const report = reportNamed(name);
  if (!report) throw new Refusal(`There is no report ${name}.`);
  return lookAt(report, await lookContextFor(request), choices);
}

/** Looks at a report for its page. */
export const LOOK = taskKind<LookRequest, LookedAt>({
  request: LookRequest,
  run: async (task, request) => task.finish(await lookFor(task, request)),
});
