import { requireProject } from '#server/auth/guard';
import { DeleteScreen } from '../screens/delete/DeleteScreen';
import type { Route } from './+types/delete';

export const meta = () => [{ title: 'Delete · Stone Tray' }];

export async function loader({ request, params }: Route.LoaderArgs) {
  await requireProject(request, params.projectId, 'viewer');
  return null;
}

export default function Delete() {
  return <DeleteScreen />;
}
