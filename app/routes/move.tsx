import { inProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/scan/project-scan';
import { MoveScreen } from '../screens/move/MoveScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/move';

export const meta = titled('Rename or move');

export const loader = inProject('viewer', async ({ db, project }) => {
  return { paths: [...(await loadProject(db, project.id)).files.keys()] };
});

export default function Move({ loaderData }: Route.ComponentProps) {
  return <MoveScreen {...loaderData} />;
}
