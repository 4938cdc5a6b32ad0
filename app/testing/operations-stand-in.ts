import type { ChangeableFileSet } from '#core/change/change-set';
import { Draft } from '#core/change/draft';
import { checkSeen } from '#core/change/seen';
import { type PlanContext, planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import { refusalOf } from '#core/refusal';
import { scanFileSet } from '#core/scan/scan';
import { plannedView } from '#server/views/planned-view';

/** What a page asked for: an operation to be planned, or to be applied. */
export interface AskedOperation {
  intent: 'plan' | 'apply';
  operation: string;
  choices: Record<string, unknown>;
}

/**
 * Stands in for the address of all operations and the job worker behind it, over some files: plans are real, and so are the
 * changes. For `fetch`, beside whatever else a page fetches.
 */
export function operationsStandIn(files: ChangeableFileSet, more: Partial<PlanContext> = {}) {
  const asked: AskedOperation[] = [];
  const results: { applied: string; summary: string; preview: unknown }[] = [];
  const planned = async ({ operation, choices }: AskedOperation) => {
    const project = await scanFileSet(files);
    const context = {
      project,
      draft: new Draft(files, project),
      now: new Date('2026-01-01'),
      progress: async () => {},
      signal: new AbortController().signal,
      remember: <Made>(_: string, make: () => Promise<Made>) => make(),
      ...more,
    } as PlanContext;
    return planOperation(operationNamed(operation)!, context, choices);
  };
  const answer = async (address: string, init?: RequestInit): Promise<Response | undefined> => {
    const { pathname, searchParams } = new URL(address, 'http://localhost');
    if (pathname.endsWith('/operations')) {
      const { seen, ...sent } = JSON.parse(String(init!.body));
      asked.push(sent);
      try {
        const plan = await planned(sent);
        if (sent.intent === 'plan') return Response.json({ planned: plannedView(plan) });
        checkSeen(seen, plan.seen);
        await files.apply(plan.change);
        results.push({
          applied: `c${results.length + 1}`,
          summary: plan.change.summary,
          preview: plan.preview,
        });
        return Response.json({ task: `operation ${results.length}` });
      } catch (error) {
        const words = refusalOf(error);
        if (words === undefined) throw error;
        return Response.json({ error: words }, { status: 409 });
      }
    }
    const [, number] = /^operation (\d+)$/.exec(searchParams.get('task') ?? '') ?? [];
    return number === undefined
      ? undefined
      : Response.json({
          state: 'done',
          done: 1,
          total: 1,
          doing: '',
          error: null,
          result: results[Number(number) - 1],
        });
  };
  return { answer, asked, results };
}
