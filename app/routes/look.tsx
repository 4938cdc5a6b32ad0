import { data } from 'react-router';
import { inProject } from '#server/auth/guard';
import { lookAt } from '#server/views/operations/look';
import { LookScreen } from '../screens/look/LookScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/look';

export const meta = titled('Look at a file');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const path = new URL(request.url).searchParams.get('path') ?? '';
  const file = await lookAt(db, project.id, path);
  if (file === undefined) throw data(`There is no file ${path}.`, { status: 404 });
  return { path, file };
});

export default function Look({ loaderData }: Route.ComponentProps) {
  return <LookScreen key={loaderData.path} {...loaderData} />;
}
