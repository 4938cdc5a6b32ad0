import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { shownAnswer } from '#server/views/operations/look';
import type { Route } from './+types/shown';

/** One version of a file as a page shows it: an image, a report, a document. Nothing in it runs. */
export const loader = answerInProject(
  'viewer',
  async ({ db, project }, { params, request }: Route.LoaderArgs) => {
    const path = new URL(request.url).searchParams.get('path') ?? '';
    const answer = await shownAnswer(db, project.id, { sha256: params.sha256, path });
    if (!answer) throw data('There is no such version in this project that can be shown.', { status: 404 });
    return answer;
  },
);
