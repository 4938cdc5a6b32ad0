import { useSearchParams } from 'react-router';
import { inProject } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { arrangeViewSteps } from '#server/views/operations/arrange-view';
import { sceneTextSteps } from '#server/views/packed/packed-scene';
import { ArrangeScreen } from '../screens/arrange/ArrangeScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/arrange';

export const meta = titled('Arrange components');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const wanted = new URL(request.url).searchParams.get('file');
  const scanned = await loadProject(db, project.id);
  requireNamed(scanned, wanted);
  const shapes = await shapesOf(db, scanned, project.id);
  const { scene, ...view } = await inTurns(arrangeViewSteps(scanned, shapes, project.id, wanted));
  return { ...view, sceneText: await inTurns(sceneTextSteps(scene)) };
});

export const shouldRevalidate = revalidateOnNewData;

export default function Arrange({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  return <ArrangeScreen key={search.get('file')} {...view} scene={useSentScene(sceneText)} />;
}
