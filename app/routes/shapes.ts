import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { shapeAnswer } from '#server/views/operations/kept-contents';
import type { Route } from './+types/shapes';

/** One picture of a content as binary glTF. */
export const loader = answerInProject(
  'viewer',
  async ({ db, project }, { request, params }: Route.LoaderArgs) => {
    const answer = await shapeAnswer(db, project.id, params, request.headers.get('If-None-Match'));
    if (!answer) throw data('There is no picture of this content.', { status: 404 });
    return answer;
  },
);
