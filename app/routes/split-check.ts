import { SplitCheckRequest } from '#core/jobs/split/check';
import { answerInProject } from '#server/auth/guard';
import { checkSplit } from '#server/projects/scan/split-check';
import { sentJson } from '#server/sent';
import type { Route } from './+types/split-check';

/** The result of a split against its source, as the kernel measures both; null while it has not. Changes nothing. */
export const action = answerInProject('viewer', async ({ db, project }, { request }: Route.ActionArgs) => {
  const asked = await sentJson(request, SplitCheckRequest, 1024 * 1024);
  return Response.json({ check: await checkSplit(db, project.id, asked) });
});
