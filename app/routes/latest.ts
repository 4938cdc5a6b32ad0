import { data, redirect } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { downloadAddress } from '../ui/addresses';
import type { Route } from './+types/latest';

/** The newest version of a file, as a download. */
export const loader = answerInProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const path = new URL(request.url).searchParams.get('path') ?? '';
  const file = await db('files').where({ project_id: project.id, path }).first('sha256');
  if (!file) throw data(`There is no file ${path}.`, { status: 404 });
  return redirect(downloadAddress(project.id, file.sha256));
});
