import { data, redirect } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { newestOf } from '#server/views/operations/kept-contents';
import { downloadAddress } from '../ui/address/addresses';
import type { Route } from './+types/latest';

/** The newest version of a file, as a download. */
export const loader = answerInProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const path = new URL(request.url).searchParams.get('path') ?? '';
  const newest = await newestOf(db, project.id, path);
  if (newest === undefined) throw data(`There is no file ${path}.`, { status: 404 });
  return redirect(downloadAddress(project.id, newest, path));
});
