import { inProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { StandInScreen } from '../screens/lite/StandInScreen';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/stand-in';

export const meta = titled('Swap lite model and original');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const file = new URL(request.url).searchParams.get('file');
  requireNamed(await loadProject(db, project.id), file);
  return { file };
});

export const shouldRevalidate = revalidateOnNewData;

export default function StandIn({ loaderData: { file } }: Route.ComponentProps) {
  return <StandInScreen key={file} file={file} />;
}
