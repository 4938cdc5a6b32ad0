import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { answerWithBlob } from '#server/db/blobs';
import type { Route } from './+types/shapes';

/** One picture of a content as binary glTF: a renewed one has another address. Only contents of the project are served. */
export const loader = answerInProject(
  'viewer',
  async ({ db, project }, { request, params }: Route.LoaderArgs) => {
    const row = await db('shapes')
      .where({ sha256: params.sha256, gltf: params.gltf })
      .whereExists(db('versions').select(1).where({ project_id: project.id, sha256: params.sha256 }))
      .first('gltf');
    if (!row?.gltf) throw data('There is no picture of this content.', { status: 404 });
    const headers = {
      'Content-Type': 'model/gltf-binary',
      'Cache-Control': 'private, max-age=31536000, immutable',
      ETag: `"${row.gltf}"`,
    };
    if (request.headers.get('If-None-Match') === headers.ETag)
      return new Response(null, { status: 304, headers });
    return answerWithBlob(db, row.gltf, headers);
  },
);
