import { requireProject } from '#server/auth/guard';
import { cancelShapes, requestShapes, retryShapes } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/project-scan';
import { fileRows } from '#server/views/files-view';
import { FilesScreen } from '../screens/files/FilesScreen';
import type { Route } from './+types/files';

export const meta = () => [{ title: 'Files · Stone Tray' }];

export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  return { files: await fileRows(db, project.id, await loadProject(db, project.id)) };
}

/** Starts or stops the preparation of shapes. */
export async function action({ request, params }: Route.ActionArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'editor');
  const scanned = await loadProject(db, project.id);
  const what = (await request.formData()).get('shapes');
  if (what === 'cancel') await cancelShapes(db, scanned);
  else if (what === 'retry') await retryShapes(db, scanned);
  else await requestShapes(db, scanned);
  return {};
}

export { revalidateOnNewData as shouldRevalidate } from '../ui/useView';

export default function Files({ loaderData }: Route.ComponentProps) {
  return <FilesScreen files={loaderData.files} />;
}
