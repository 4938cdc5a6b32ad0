import { z } from 'zod';
import { answerInProject } from '#server/auth/guard';
import { ownerOf, startTask } from '#server/jobs/tasks';
import { PublishRequest } from '#server/projects/publish';
import type { Route } from './+types/publish';

const Asked = PublishRequest.extend({ task: z.uuid().optional() });

/** Has the job worker offer a file in the catalogue. */
export const action = answerInProject('editor', async (access, { request }: Route.ActionArgs) => {
  const asked = Asked.safeParse(await request.json().catch(() => null));
  if (!asked.success) return Response.json({ error: asked.error.issues[0]!.message }, { status: 400 });
  const { task: id, ...wanted } = asked.data;
  return Response.json({ task: await startTask(access.db, ownerOf(access), 'publish', wanted, id) });
});
