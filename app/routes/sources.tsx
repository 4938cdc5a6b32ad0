import { inProject } from '#server/auth/guard';
import { isMeasured, sourcesOf } from '#server/projects/catalogue/sources';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { SourcesScreen } from '../screens/sources/SourcesScreen';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/sources';

export const meta = titled('Behind');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  requireNamed(scanned, search.get('source'));
  const sources = sourcesOf(scanned);
  const source = (sources.find(({ path }) => path === search.get('source')) ?? sources[0])?.path ?? null;
  return { sources, source, isPreparing: source !== null && !(await isMeasured(db, scanned, source)) };
});

export const shouldRevalidate = revalidateOnNewData;

export default function Sources({ loaderData }: Route.ComponentProps) {
  return <SourcesScreen {...loaderData} />;
}
