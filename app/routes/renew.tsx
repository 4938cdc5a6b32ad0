import { filesToRenew, formInWords } from '#core/jobs/repair/renew';
import { inProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/scan/project-scan';
import { RenewScreen } from '../screens/renew/RenewScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/renew';

export const meta = titled('Renew how links are written');

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
