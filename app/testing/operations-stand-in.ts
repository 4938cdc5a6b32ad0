import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import type { PlanContext } from '#core/planning';
import type { ChangeableFileSet, ChangeSet } from '#core/project/change/change-set';
import { Draft } from '#core/project/change/draft';
import { checkSeen } from '#core/project/change/seen';
import { scanFileSet } from '#core/project/scan/scan';
import { refusalOf } from '#core/refusal';
import { plannedView } from '#server/views/operations/planned-view';
import { Pictures } from '#server/views/structure/scene';

/** What a page asked for: an operation to be planned, or to be applied. */
export interface AskedOperation {
  intent: 'plan' | 'apply';
  operation: string;
  choices: Record<string, unknown>;
}

interface StandIn {
  context?: Partial<PlanContext>;
  /** A state in which every task is found, whatever is asked for: one that runs on, or one that failed. */
  state?: object;
  /** Operations whose plans are tasks, too, in that state. */
  slow?: readonly string[];
}

/**
 * Stands in for the address of all operations and the job worker behind it, over some files: plans are real, and so are the
 * changes. For `fetch`, beside whatever else a page fetches.
 */
export function operationsStandIn(
  files: ChangeableFileSet,
  { context = {}, state, slow = [] }: StandIn = {},
) {
  const asked: AskedOperation[] = [];
  const cancelled: string[] = [];
  const results: object[] = [];
  const inverses = new Map<string, ChangeSet>();
  const planned = async ({ operation, choices }: AskedOperation) => {
    const project = await scanFileSet(files);
    const whole = {
      project,
      draft: new Draft(files, project),
      now: new Date('2026-01-01'),
      progress: async () => {},
      signal: new AbortController().signal,
      remember: <Made>(_: string, make: () => Promise<Made>) => make(),
      measured: async () => new Map(),
      olderVersion: async () => undefined,
      received: async () => [],
      isUntouched: false,
      inverseOf: async (id: string) => ({ ...inverses.get(id)!, undoes: id }),
      ...context,
    } as PlanContext;
    const described = operationNamed(operation)!;
    const plan = await planOperation(described, whole, choices);
    const home = {
      project,
      keepPicture: async () => '/projects/p/pictures/ab',
      pictures: async () => new Pictures(project, new Map(), 'p'),
    };
    return { ...plan, preview: described.view ? await described.view(plan.preview, home) : plan.preview };
  };
  const answer = async (address: string, init?: RequestInit): Promise<Response | undefined> => {
    const { pathname, searchParams } = new URL(address, 'http://localhost');
    if (pathname.endsWith('/operations')) {
      const { seen, ...sent } = JSON.parse(String(init!.body));
      asked.push(sent);
      if (state && (sent.intent === 'apply' || slow.includes(sent.operation)))
        return Response.json({ task: `operation ${results.push({})}` });
      try {
        const plan = await planned(sent);
        if (sent.intent === 'plan') return Response.json({ planned: plannedView(plan) });
        checkSeen(seen, plan.seen);
        const applied = `c${results.length + 1}`;
        inverses.set(applied, await files.apply(plan.change));
        const number = results.push({
          applied,
          summary: plan.change.summary,
          preview: plan.preview,
        });
        return Response.json({ task: `operation ${number}` });
      } catch (error) {
        const words = refusalOf(error);
        if (words === undefined) throw error;
        if (sent.intent === 'plan') return Response.json({ refused: words });
        return Response.json({ error: words }, { status: 409 });
      }
    }
    // Asked for to see whether there is a server.
    if (['/ready', '/session'].includes(pathname)) return new Response();
    if (!pathname.endsWith('/tasks')) return undefined;
    if (init?.method === 'POST') {
      cancelled.push(JSON.parse(String(init.body)).cancel);
      return Response.json({});
    }
    const [id, number] = /^operation (\d+)$/.exec(searchParams.get('task') ?? '') ?? [];
    if (id === undefined) return undefined;
    const done = {
      state: 'done',
      done: 1,
      total: 1,
      doing: '',
      error: null,
      result: results[Number(number) - 1],
    };
    return Response.json(cancelled.includes(id) ? { ...done, state: 'cancelled' } : { ...done, ...state });
  };
  return { answer, asked, cancelled };
}
