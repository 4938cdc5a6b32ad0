import { useSearchParams } from 'react-router';
import { inProject } from '#server/auth/guard';
import { placeViewSteps } from '#server/views/operations/place-view';
import { sentAssembly } from '#server/views/operations/sent-assembly';
import { PlaceScreen } from '../screens/place/PlaceScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/place';

export const meta = titled('Place components');

export const loader = inProject('viewer', ({ db, project }, { request }: Route.LoaderArgs) =>
  sentAssembly(db, project.id, request, placeViewSteps),
);

export const shouldRevalidate = revalidateOnNewData;

export default function Place({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  return <PlaceScreen key={search.get('file')} {...view} scene={useSentScene(sceneText)} />;
}
