import { useSearchParams } from 'react-router';
import { inProject } from '#server/auth/guard';
import { makeComponentsViewSteps } from '#server/views/operations/make-components-view';
import { sentAssembly } from '#server/views/operations/sent-assembly';
import { MakeComponentsScreen } from '../screens/components/MakeComponentsScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/make-components';

export const meta = titled('Make components of bodies');

export const loader = inProject('viewer', ({ db, project }, { request }: Route.LoaderArgs) =>
  sentAssembly(db, project.id, request, makeComponentsViewSteps),
);

export const shouldRevalidate = revalidateOnNewData;

export default function MakeComponents({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  // The first file that there is may be another when its bodies have become components.
  return <MakeComponentsScreen key={search.get('file')} {...view} scene={useSentScene(sceneText)} />;
}
