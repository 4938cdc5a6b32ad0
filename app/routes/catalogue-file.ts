import { forEverybody } from '#server/auth/guard';
import { asDownload } from '#server/download';
import { takeFile } from '#server/projects/catalogue/publications';
import type { Route } from './+types/catalogue-file';

/** A file that is offered, in one of its formats, as a download. */
export const loader = forEverybody(async (db, { params }: Route.LoaderArgs) => {
  const file = await takeFile(db, params.token, params.format);
  if (!file) return new Response('This is not offered, or no longer.', { status: 404 });
  return new Response(new Uint8Array(file.content), {
    headers: { ...asDownload(file.name), 'Cache-Control': 'no-store' },
  });
});
