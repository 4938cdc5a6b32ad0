import { inProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/project-scan';
import { MoveScreen } from '../screens/move/MoveScreen';
import type { Route } from './+types/move';

export const meta = () => [{ title: 'Rename or move · Stone Tray' }];

export const loader = inProject('viewer', async ({ db, project }) => {
  return { paths: [...(await loadProject(db, project.id)).files.keys()] };
});

export default function Move({ loaderData }: Route.ComponentProps) {
  return <MoveScreen {...loaderData} />;
}
