import { inProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/scan/project-scan';
import { AttachScreen } from '../screens/attach/AttachScreen';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/attach';

export const meta = titled('Attach to a model');

export const loader = inProject('viewer', async ({ db, project }) => {
  const { files, attached } = await loadProject(db, project.id);
  return {
    models: [...files.values()].flatMap(({ path, scan: { role } }) =>
      role === 'assembly' || role === 'part' || role === 'mesh' ? [path] : [],
    ),
    attached: [...attached].flatMap(([to, papers]) => papers.map(({ file }) => ({ file, to }))),
  };
});

export const shouldRevalidate = revalidateOnNewData;

export default function Attach({ loaderData }: Route.ComponentProps) {
  return <AttachScreen {...loaderData} />;
}
