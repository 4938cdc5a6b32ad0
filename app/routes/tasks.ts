import { data } from 'react-router';
import { z } from 'zod';
import { answerInProject } from '#server/auth/guard';
import { cancelTask, ownerOf, taskState } from '#server/jobs/tasks';
import { sentJson } from '#server/sent';
import type { Route } from './+types/tasks';

/** The state of one of the person's own tasks, as JSON. */
export const loader = answerInProject('viewer', async (access, { request }: Route.LoaderArgs) => {
  const state = await taskState(access.db, ownerOf(access), new URL(request.url).searchParams.get('task'));
  if (!state) throw data('There is no such work. It is kept for a day; ask for it again.', { status: 404 });
  return Response.json(state, { headers: { 'Cache-Control': 'no-store' } });
});

/** Stops one of the person's own tasks; an owner stops anybody's. */
export const action = answerInProject('viewer', async (access, { request }: Route.ActionArgs) => {
  const { cancel } = await sentJson(request, z.object({ cancel: z.uuid() }));
  await cancelTask(access.db, ownerOf(access), cancel, access.role === 'owner' ? 'any' : 'own');
  return Response.json({});
});
