import { useMemo } from 'react';
import { inProject } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { shapesOf } from '#server/jobs/shapes';
import { changeTimes } from '#server/projects/files/change-times';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { keptViews } from '#server/views/structure/kept-views';
import { packSteps, unpackStructure } from '#server/views/structure/packed-structure';
import { structureViewSteps } from '#server/views/structure/structure-view';
import { StructureScreen } from '../screens/structure/StructureScreen';
import { LARGE } from '../stage/useSentScene';
import { PageTitle } from '../ui/frame/PageTitle';
import { titled } from '../ui/frame/titles';
import { useIsHydrated } from '../ui/useIsHydrated';
import type { Route } from './+types/structure';

/** So many rows are opened at once beyond what the page lists. */
const MOST_UNFOLDED = 20;

export const meta = titled('Structure');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  requireNamed(scanned, search.get('root'));
  const view = structureViewSteps(scanned, await shapesOf(db, scanned, project.id), project.id, {
    root: search.get('root'),
    grouped: search.get('single') === null,
    changed: await changeTimes(db, project.id),
    unfold: search.get('unfold')?.split(' ').slice(0, MOST_UNFOLDED),
  });
  return { packed: await inTurns(packSteps(await inTurns(view))), views: await keptViews(db, scanned) };
});

export { revalidateOnNewData as shouldRevalidate } from '../ui/address/useView';

export default function Structure({ loaderData: { packed, views } }: Route.ComponentProps) {
  const isHydrated = useIsHydrated();
  // The server leaves a large one to the browser: others would wait meanwhile.
  const isReadHere = isHydrated || packed.length < LARGE;
  const view = useMemo(() => (isReadHere ? unpackStructure(packed) : null), [packed, isReadHere]);
  return view ? <StructureScreen {...view} views={views} /> : <Arriving />;
}

function Arriving() {
  return (
    <>
      <PageTitle>Structure</PageTitle>
      <p className="muted" role="status" style={{ padding: '0 16px' }}>
        A large structure is being laid out…
      </p>
    </>
  );
}
