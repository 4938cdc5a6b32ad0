import { useSearchParams } from 'react-router';
import { inProject } from '#server/auth/guard';
import { arrangeViewSteps } from '#server/views/operations/arrange-view';
import { sentAssembly } from '#server/views/operations/sent-assembly';
import { ArrangeScreen } from '../screens/arrange/ArrangeScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/arrange';

export const meta = titled('Arrange components');

export const loader = inProject('viewer', ({ db, project }, { request }: Route.LoaderArgs) =>
  sentAssembly(db, project.id, request, arrangeViewSteps),
);

export const shouldRevalidate = revalidateOnNewData;

export default function Arrange({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  return <ArrangeScreen key={search.get('file')} {...view} scene={useSentScene(sceneText)} />;
}
