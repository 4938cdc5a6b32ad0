import type { TaskState } from '#server/jobs/tasks';

/** What a page asked the job worker for. */
export type AskedTask = Record<string, unknown>;

/**
 * Stands in for the job worker's address: what is asked for is done at the first look. For `fetch`, beside whatever else
 * a page fetches.
 * @param work gives the result, or the rest of a state
 */
export function tasksStandIn(work: (asked: AskedTask) => object) {
  const asked: AskedTask[] = [];
  const cancelled: string[] = [];
  const answer = async (address: string, init?: RequestInit): Promise<Response | undefined> => {
    const { pathname, searchParams } = new URL(address, 'http://localhost');
    // Asked for to see whether there is a server, and a session.
    if (pathname === '/ready' || pathname === '/session') return new Response();
    if (!/\/(tasks|operations)$/.test(pathname)) return undefined;
    if (init?.method === 'POST') {
      const { cancel, ...sent } = JSON.parse(String(init.body)) as { cancel?: string };
      if (cancel === undefined) asked.push(sent);
      else cancelled.push(cancel);
      return Response.json({ task: String(asked.length - 1) });
    }
    const id = searchParams.get('task')!;
    const state: TaskState = {
      id,
      kind: 'apply',
      state: cancelled.includes(id) ? 'cancelled' : 'done',
      doing: '',
      done: 1,
      total: 2,
      result: null,
      error: null,
    };
    if (state.state === 'cancelled') return Response.json(state);
    const result = work(asked[Number(id)]!);
    return Response.json('state' in result ? { ...state, ...result } : { ...state, result });
  };
  return { answer, asked, cancelled };
}
