import { inProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { MapScreen } from '../screens/map/MapScreen';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/map';

export const meta = titled('Map');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const scanned = await loadProject(db, project.id);
  requireNamed(scanned, new URL(request.url).searchParams.get('file'));
  return { files: [...scanned.files.keys()] };
});

export const shouldRevalidate = revalidateOnNewData;

export default function LinkMapPage({ loaderData }: Route.ComponentProps) {
  return <MapScreen {...loaderData} />;
}
