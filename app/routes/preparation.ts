import { z } from 'zod';
import { answerInProject, requireRole } from '#server/auth/guard';
import { cancelShapes, requestShapes, retryShapes } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { sentFields } from '#server/sent';
import { clientAsks } from '../ui/connection/connection';
import type { Route } from './+types/preparation';

const Asked = z.object({ intent: z.enum(['begin', 'stop', 'again']) });

/** The preparation of shapes: whoever looks has it begun for what has none yet; to stop it, or to try again, needs an editor. */
export const action = answerInProject('viewer', async (access, { request }: Route.ActionArgs) => {
  const asked = Asked.safeParse(await sentFields(request));
  if (!asked.success) return Response.json({ error: 'This cannot be read.' }, { status: 400 });
  const { intent } = asked.data;
  if (intent !== 'begin') requireRole(access, 'editor');
  const { db, project } = access;
  const scanned = await loadProject(db, project.id);
  if (intent === 'stop') await cancelShapes(db, scanned);
  else if (intent === 'again') await retryShapes(db, scanned);
  else await requestShapes(db, scanned);
  return Response.json({});
});

export const clientAction = clientAsks<object>;
