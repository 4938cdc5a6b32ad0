import { data } from 'react-router';
import { z } from 'zod';
import { answerInProject } from '#server/auth/guard';
import { cancelTask, ownerOf, taskState } from '#server/jobs/tasks';
import type { Route } from './+types/tasks';

/** The state of one of the person's own tasks, as JSON. */
export const loader = answerInProject('viewer', async (access, { request }: Route.LoaderArgs) => {
  const state = await taskState(access.db, ownerOf(access), new URL(request.url).searchParams.get('task'));
  if (!state) throw data('There is no such work. It is kept for a day; ask for it again.', { status: 404 });
  return Response.json(state, { headers: { 'Cache-Control': 'no-store' } });
});

/** Stops one of the person's own tasks. */
export const action = answerInProject('viewer', async (access, { request }: Route.ActionArgs) => {
  const asked = z.object({ cancel: z.uuid() }).safeParse(await request.json().catch(() => null));
  if (!asked.success) return Response.json({ error: 'There is no such work.' }, { status: 400 });
  await cancelTask(access.db, ownerOf(access), asked.data.cancel);
  return Response.json({});
});
