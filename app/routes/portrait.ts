import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { portraitImage, requestPortraits } from '#server/jobs/portraits';
import type { Route } from './+types/portrait';

/** The picture of a root assembly. */
export const loader = answerInProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const path = new URL(request.url).searchParams.get('root') ?? '';
  const found = await portraitImage(db, project.id, path);
  if (!found) throw data('There is no picture of it yet.', { status: 404 });
  return new Response(new Uint8Array(found), {
    headers: {
      'Content-Type': 'image/png',
      // What it shows stands in its address.
      'Cache-Control': 'private, max-age=604800, immutable',
    },
  });
});

/** Has the pictures of a project drawn. */
export const action = answerInProject('viewer', async ({ db, project }) => {
  await requestPortraits(db, project.id);
  return Response.json({});
});
