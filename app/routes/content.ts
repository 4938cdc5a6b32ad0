import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { versionAnswer } from '#server/views/operations/kept-contents';
import type { Route } from './+types/content';

/** One kept version of a file, as a download: never shown in the page, whatever it contains. */
export const loader = answerInProject('viewer', async ({ db, project }, { params }: Route.LoaderArgs) => {
  const answer = await versionAnswer(db, project.id, params.sha256);
  if (!answer) throw data('There is no such version in this project.', { status: 404 });
  return answer;
});
