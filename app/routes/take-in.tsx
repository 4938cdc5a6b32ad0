import { useSearchParams } from 'react-router';
import { inProject } from '#server/auth/guard';
import { sentAssembly } from '#server/views/operations/sent-assembly';
import { takeInViewSteps } from '#server/views/operations/take-in-view';
import { TakeInScreen } from '../screens/takein/TakeInScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/take-in';

export const meta = titled('Take components in');

export const loader = inProject('viewer', ({ db, project }, { request }: Route.LoaderArgs) =>
  sentAssembly(db, project.id, request, takeInViewSteps),
);

export const shouldRevalidate = revalidateOnNewData;

export default function TakeIn({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  // The first file that there is may be another when something was taken in.
  return <TakeInScreen key={search.get('file')} {...view} scene={useSentScene(sceneText)} />;
}
