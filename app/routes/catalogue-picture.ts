import { forEverybody } from '#server/auth/guard';
import { pictureAt } from '#server/projects/catalogue/publications';
import type { Route } from './+types/catalogue-picture';

/** The picture of a file that is offered. */
export const loader = forEverybody(async (db, { params }: Route.LoaderArgs) => {
  const image = await pictureAt(db, params.token);
  if (!image) return new Response('There is no such picture.', { status: 404 });
  return new Response(new Uint8Array(image), {
    headers: {
      'Content-Type': 'image/png',
      // It goes with the withdrawal: nobody keeps it without asking.
      'Cache-Control': 'private, no-cache',
      'X-Content-Type-Options': 'nosniff',
    },
  });
});
