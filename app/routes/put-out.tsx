import { useSearchParams } from 'react-router';
import { inProject } from '#server/auth/guard';
import { putOutViewSteps } from '#server/views/operations/put-out-view';
import { sentAssembly } from '#server/views/operations/sent-assembly';
import { PutOutScreen } from '../screens/putout/PutOutScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/put-out';

export const meta = titled('Put components out');

export const loader = inProject('viewer', ({ db, project }, { request }: Route.LoaderArgs) =>
  sentAssembly(db, project.id, request, putOutViewSteps),
);

export const shouldRevalidate = revalidateOnNewData;

export default function PutOut({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  // The first file that there is may be another when something was put out.
  return <PutOutScreen key={search.get('file')} {...view} scene={useSentScene(sceneText)} />;
}
