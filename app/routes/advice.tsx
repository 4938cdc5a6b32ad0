import { inProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { AdviceScreen } from '../screens/advice/AdviceScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/advice';

export const meta = titled('Advice');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const file = new URL(request.url).searchParams.get('file');
  requireNamed(await loadProject(db, project.id), file);
  return { file };
});

export default function Advice({ loaderData }: Route.ComponentProps) {
  return <AdviceScreen {...loaderData} />;
}
