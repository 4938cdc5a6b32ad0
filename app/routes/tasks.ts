import { data } from 'react-router';
import { z } from 'zod';
import { requireProject } from '#server/auth/guard';
import { cancelTask, ownerOf, startTask, TASK_NAMES, taskState } from '#server/jobs/tasks';
import { TASK_KINDS } from '#server/worker/task-kinds';
import type { Route } from './+types/tasks';

/** The state of one of the person's own tasks, as JSON. */
export async function loader({ request, params }: Route.LoaderArgs) {
  const access = await requireProject(request, params.projectId, 'viewer');
  const state = await taskState(access.db, ownerOf(access), new URL(request.url).searchParams.get('task'));
  if (!state) throw data('There is no such work. It is kept for a day; ask for it again.', { status: 404 });
  return Response.json(state, { headers: { 'Cache-Control': 'no-store' } });
}

const Request = z.discriminatedUnion('intent', [
  z.object({ intent: z.literal('start'), kind: z.enum(TASK_NAMES), request: z.unknown() }),
  z.object({ intent: z.literal('cancel'), task: z.uuid() }),
]);

/** Has the job worker do something, or stops it. What changes files needs an editor. */
export async function action({ request, params }: Route.ActionArgs) {
  const access = await requireProject(request, params.projectId, 'viewer');
  const owner = ownerOf(access);
  const asked = Request.safeParse(await request.json().catch(() => null));
  const refused = Response.json(
    { error: 'What was asked for cannot be read. Reload the page and choose again.' },
    { status: 400 },
  );
  if (!asked.success) return refused;
  if (asked.data.intent === 'cancel') {
    await cancelTask(access.db, owner, asked.data.task);
    return Response.json({ task: null });
  }
  const kind = TASK_KINDS[asked.data.kind];
  await requireProject(request, params.projectId, kind.role);
  const wanted = kind.request.safeParse(asked.data.request);
  if (!wanted.success) return refused;
  return Response.json({ task: await startTask(access.db, owner, asked.data.kind, wanted.data) });
}
