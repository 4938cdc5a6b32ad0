import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { ownerOf } from '#server/jobs/tasks';
import { pictureAnswer } from '#server/views/operations/kept-contents';
import type { Route } from './+types/pictures';

/** What a plan of the person's own keeps for its page: models as binary glTF. */
export const loader = answerInProject('viewer', async (access, { params }: Route.LoaderArgs) => {
  const answer = await pictureAnswer(access.db, ownerOf(access), params.sha256);
  if (!answer)
    throw data('There is no such picture any more. It is kept for a day; look again.', { status: 404 });
  return answer;
});
