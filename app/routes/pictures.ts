import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { answerWithBlob } from '#server/db/blobs';
import type { Route } from './+types/pictures';

/** What a plan of the person's own keeps for its page: models as binary glTF. */
export const loader = answerInProject(
  'viewer',
  async ({ db, user, project }, { params }: Route.LoaderArgs) => {
    const kept = await db('task_blobs')
      .join('tasks', 'tasks.id', 'task_blobs.task_id')
      .where({ project_id: project.id, user_id: user.id, sha256: params.sha256 })
      .first('sha256');
    if (!kept)
      throw data('There is no such picture any more. It is kept for a day; look again.', { status: 404 });
    return answerWithBlob(db, params.sha256, {
      'Content-Type': 'model/gltf-binary',
      'Cache-Control': 'private, max-age=86400, immutable',
    });
  },
);
