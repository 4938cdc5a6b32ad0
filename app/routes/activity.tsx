import { z } from 'zod';
import { requireProject } from '#server/auth/guard';
import { readLog } from '#server/projects/projects';
import { ActivityScreen } from '../screens/activity/ActivityScreen';
import type { Route } from './+types/activity';

export const meta = () => [{ title: 'Activity · Stone Tray' }];

export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  const before = z.coerce
    .number()
    .int()
    .positive()
    .safeParse(new URL(request.url).searchParams.get('before') ?? undefined);
  return { entries: await readLog(db, project.id, before.data) };
}

export default function Activity({ loaderData }: Route.ComponentProps) {
  return <ActivityScreen entries={loaderData.entries} />;
}
