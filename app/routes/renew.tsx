import { filesToRenew, formInWords } from '#core/repair/renew';
import { requireProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/project-scan';
import { RenewScreen } from '../screens/renew/RenewScreen';
import type { Route } from './+types/renew';

export const meta = () => [{ title: 'Renew how links are written · Stone Tray' }];

export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  const scanned = await loadProject(db, project.id);
  return {
    files: filesToRenew(scanned).map(({ path, forms }) => ({
      path,
      forms,
      what: forms.map(formInWords),
    })),
  };
}

export default function Renew({ loaderData }: Route.ComponentProps) {
  return <RenewScreen {...loaderData} />;
}
