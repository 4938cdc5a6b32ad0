import { useSearchParams } from 'react-router';
import { inProject } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { putOutViewSteps } from '#server/views/operations/put-out-view';
import { sceneTextSteps } from '#server/views/packed/packed-scene';
import { PutOutScreen } from '../screens/putout/PutOutScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/put-out';

export const meta = titled('Put components out');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const wanted = new URL(request.url).searchParams.get('file');
  const scanned = await loadProject(db, project.id);
  requireNamed(scanned, wanted);
  const shapes = await shapesOf(db, scanned, project.id);
  const { scene, ...view } = await inTurns(putOutViewSteps(scanned, shapes, project.id, wanted));
  return { ...view, sceneText: await inTurns(sceneTextSteps(scene)) };
});

export const shouldRevalidate = revalidateOnNewData;

export default function PutOut({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  // The first file that there is may be another when something was put out.
  return <PutOutScreen key={search.get('file')} {...view} scene={useSentScene(sceneText)} />;
}
