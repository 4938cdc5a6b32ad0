import { filesToRenew, formInWords } from '#core/repair/renew';
import { inProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/project-scan';
import { RenewScreen } from '../screens/renew/RenewScreen';
import type { Route } from './+types/renew';

export const meta = () => [{ title: 'Renew how links are written · Stone Tray' }];

export const loader = inProject('viewer', async ({ db, project }) => {
  const scanned = await loadProject(db, project.id);
  return {
    files: filesToRenew(scanned).map(({ path, forms }) => ({
      path,
      forms,
      what: forms.map(formInWords),
    })),
  };
});

export default function Renew({ loaderData }: Route.ComponentProps) {
  return <RenewScreen {...loaderData} />;
}
