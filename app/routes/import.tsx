import { inProject } from '#server/auth/guard';
import { ownerOf } from '#server/jobs/tasks';
import { uploadOf } from '#server/projects/files/uploads';
import { ImportScreen } from '../screens/import/ImportScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/import';

export const meta = titled('Import');

export const loader = inProject('viewer', async (access, { request }: Route.LoaderArgs) => {
  const upload = new URL(request.url).searchParams.get('upload') ?? '';
  return { upload: (await uploadOf(access.db, { ...ownerOf(access), upload })) ?? null };
});

export default function Import({ loaderData }: Route.ComponentProps) {
  return <ImportScreen upload={loaderData.upload} />;
}
