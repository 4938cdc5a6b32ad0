import { answerInProject } from '#server/auth/guard';
import { exactBody } from '#server/jobs/shapes';
import type { Route } from './+types/exact';

/** Surfaces and curves of one body of a content, to be measured. Only contents of the project are served. */
export const loader = answerInProject('viewer', async ({ db, project }, { params }: Route.LoaderArgs) => {
  const exact = await exactBody(db, project.id, params);
  if (!exact)
    return Response.json(
      { error: 'This body is not prepared for measuring. Wait until its shape is there.' },
      { status: 404 },
    );
  return Response.json(exact, { headers: { 'Cache-Control': 'private, max-age=31536000, immutable' } });
});
