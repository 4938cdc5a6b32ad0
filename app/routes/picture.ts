import { data, redirect } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { filePicture } from '#server/views/files/file-picture';
import { shownAddress } from '../ui/address/addresses';
import type { Route } from './+types/picture';

const BLANK = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 3"/>';

/** A small picture of a file: of its shapes, of what is below it, or itself where it is an image. */
export const loader = answerInProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const search = new URL(request.url).searchParams;
  const path = search.get('path') ?? '';
  const found = await filePicture(db, project.id, path);
  // Rows ask without knowing; it may still be drawn.
  if (!found && search.get('or') === 'blank')
    return new Response(BLANK, {
      headers: { 'Content-Type': 'image/svg+xml', 'Cache-Control': 'private, max-age=20' },
    });
  if (!found) throw data('There is no picture of it.', { status: 404 });
  if ('image' in found) return redirect(shownAddress(project.id, found.image, path));
  return new Response(new Uint8Array(found.png), {
    headers: {
      'Content-Type': 'image/png',
      'X-Content-Type-Options': 'nosniff',
      // What it shows stands in its address: the version of the file.
      'Cache-Control': 'private, max-age=86400',
    },
  });
});
