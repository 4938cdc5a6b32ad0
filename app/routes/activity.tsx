import { z } from 'zod';
import { inProject } from '#server/auth/guard';
import { readLog } from '#server/projects/projects';
import { healthOf } from '#server/projects/scan/health';
import { loadProject } from '#server/projects/scan/project-scan';
import { ActivityScreen } from '../screens/activity/ActivityScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/activity';

export const meta = titled('Activity');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const before = z.coerce
    .number()
    .int()
    .positive()
    .safeParse(new URL(request.url).searchParams.get('before') ?? undefined);
  // Kept as the project is read.
  await loadProject(db, project.id);
  const health = (await healthOf(db, [project.id])).get(project.id) ?? [];
  return { entries: await readLog(db, project.id, before.data), health };
});

export default function Activity({ loaderData }: Route.ComponentProps) {
  return <ActivityScreen {...loaderData} />;
}
