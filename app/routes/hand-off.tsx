import { originalOf, startingPoints } from '#core/project/scan/project';
import { inProject } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { shapesOf } from '#server/jobs/shapes';
import { doneWithFile } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { sceneTextSteps } from '#server/views/packed/packed-scene';
import { structureViewSteps } from '#server/views/structure/structure-view';
import { HandOffScreen } from '../screens/handoff/HandOffScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/hand-off';

export const meta = titled('Hand-off');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  requireNamed(scanned, search.get('root'));
  const assemblies = [...scanned.files.values()]
    .filter(({ scan }) => scan.role === 'assembly')
    .map(({ path }) => path);
  const roots = [...new Set([...startingPoints(scanned), ...assemblies])];
  const asked = search.get('root');
  if (asked !== null && scanned.files.has(asked) && !roots.includes(asked)) roots.push(asked);
  const root = asked !== null && roots.includes(asked) ? asked : roots[0];
  if (root === undefined) return { root: null, roots, sceneText: null, lighter: [], done: [] };
  const lighter = [...scanned.files.keys()].filter((path) => originalOf(scanned, path) === root);
  const done = await doneWithFile(db, project.id, root, ['package']);
  const shapes = await shapesOf(db, scanned, project.id);
  const { scene } = await inTurns(structureViewSteps(scanned, shapes, project.id, { root, grouped: true }));
  return { root, roots, sceneText: await inTurns(sceneTextSteps(scene)), lighter, done };
});

export const shouldRevalidate = revalidateOnNewData;

export default function HandOff({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  return <HandOffScreen {...view} scene={useSentScene(sceneText)} />;
}
