import { inProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/scan/project-scan';
import { fileRows } from '#server/views/files/files-view';
import { FilesScreen } from '../screens/files/FilesScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/files';

export const meta = titled('Files');

export const loader = inProject('viewer', async ({ db, project }) => {
  return { files: await fileRows(db, project.id, await loadProject(db, project.id)) };
});

export { revalidateOnNewData as shouldRevalidate } from '../ui/address/useView';

export default function Files({ loaderData }: Route.ComponentProps) {
  return <FilesScreen files={loaderData.files} />;
}
