import { useSearchParams } from 'react-router';
import { inProject } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { takeInViewSteps } from '#server/views/operations/take-in-view';
import { sceneTextSteps } from '#server/views/packed/packed-scene';
import { TakeInScreen } from '../screens/takein/TakeInScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/take-in';

export const meta = titled('Take components in');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const wanted = new URL(request.url).searchParams.get('file');
  const scanned = await loadProject(db, project.id);
  requireNamed(scanned, wanted);
  const shapes = await shapesOf(db, scanned, project.id);
  const { scene, ...view } = await inTurns(takeInViewSteps(scanned, shapes, project.id, wanted));
  return { ...view, sceneText: await inTurns(sceneTextSteps(scene)) };
});

export const shouldRevalidate = revalidateOnNewData;

export default function TakeIn({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  // The first file that there is may be another when something was taken in.
  return <TakeInScreen key={search.get('file')} {...view} scene={useSentScene(sceneText)} />;
}
