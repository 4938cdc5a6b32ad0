import { database } from '#server/db/connection';
import { pictureAt } from '#server/projects/catalogue/publications';
import type { Route } from './+types/catalogue-picture';

/** The picture of a file that is offered. */
export async function loader({ params }: Route.LoaderArgs) {
  const image = await pictureAt(database(), params.token);
  if (!image) return new Response('There is no such picture.', { status: 404 });
  return new Response(new Uint8Array(image), {
    headers: {
      'Content-Type': 'image/png',
      // It goes with the withdrawal: nobody keeps it without asking.
      'Cache-Control': 'private, no-cache',
      'X-Content-Type-Options': 'nosniff',
    },
  });
}
