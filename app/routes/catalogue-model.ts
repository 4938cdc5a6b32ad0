import { forEverybody } from '#server/auth/guard';
import { meshAt } from '#server/projects/catalogue/publications';
import type { Route } from './+types/catalogue-model';

/** The mesh of a file that is offered, as its page draws it. */
export const loader = forEverybody(async (db, { params }: Route.LoaderArgs) => {
  const mesh = await meshAt(db, params.token);
  if (!mesh) return new Response('This is not offered, or no longer.', { status: 404 });
  return new Response(new Uint8Array(mesh), {
    headers: {
      'Content-Type': 'model/gltf-binary',
      // As the picture: it goes with the withdrawal.
      'Cache-Control': 'private, no-cache',
      'X-Content-Type-Options': 'nosniff',
    },
  });
});
