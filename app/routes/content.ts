import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { versionAnswer } from '#server/views/operations/kept-contents';
import type { Route } from './+types/content';

/** One kept version of a file, as a download: never shown in the page, whatever it contains. */
export const loader = answerInProject(
  'viewer',
  async ({ db, project }, { params, request }: Route.LoaderArgs) => {
    const path = new URL(request.url).searchParams.get('path');
    const answer = await versionAnswer(db, project.id, { sha256: params.sha256, path });
    if (!answer) throw data('There is no such version in this project.', { status: 404 });
    return answer;
  },
);
