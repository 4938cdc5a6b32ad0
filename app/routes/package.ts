import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { ownerOf } from '#server/jobs/tasks';
import { productAnswer } from '#server/views/operations/kept-contents';
import type { Route } from './+types/package';

/** What an operation made for the person, as a download. */
export const loader = answerInProject('viewer', async (access, { request }: Route.LoaderArgs) => {
  const task = new URL(request.url).searchParams.get('package');
  const answer = await productAnswer(access.db, ownerOf(access), task);
  if (answer === undefined)
    throw data('There is no such package. Packages are kept for a day; write it again.', { status: 404 });
  if (answer === null) throw data('This package is not written yet.', { status: 409 });
  return answer;
});
