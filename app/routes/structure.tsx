import { useMemo } from 'react';
import { inProject } from '#server/auth/guard';
import { shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { packStructure, unpackStructure } from '#server/views/structure/packed-structure';
import { structureView } from '#server/views/structure/structure-view';
import { StructureScreen } from '../screens/structure/StructureScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/structure';

export const meta = titled('Structure');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  requireNamed(scanned, search.get('root'));
  const view = structureView(
    scanned,
    await shapesOf(db, scanned, project.id),
    project.id,
    search.get('root'),
    search.get('single') === null,
  );
  return { packed: packStructure(view) };
});

export { revalidateOnNewData as shouldRevalidate } from '../ui/address/useView';

export default function Structure({ loaderData }: Route.ComponentProps) {
  const { packed } = loaderData;
  const view = useMemo(() => unpackStructure(packed), [packed]);
  return <StructureScreen {...view} />;
}
