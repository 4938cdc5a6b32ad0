import { data } from 'react-router';
import { z } from 'zod';
import { Refusal } from '#core/refusal';
import { requireProject } from '#server/auth/guard';
import { ProjectFileSet } from '#server/projects/project-files';
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

const UndoForm = z.object({ changeSet: z.uuid() });

/** Takes a change back. */
export async function action({ request, params }: Route.ActionArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'editor');
  const form = UndoForm.safeParse(Object.fromEntries(await request.formData()));
  if (!form.success) return data({ error: 'There is no such change.' }, { status: 400 });
  try {
    const files = new ProjectFileSet(db, project.id, user.id);
    await files.applyAs(await files.planUndo(form.data.changeSet), form.data.changeSet);
    return { undone: form.data.changeSet };
  } catch (error) {
    if (error instanceof Refusal) return data({ error: error.message }, { status: 409 });
    throw error;
  }
}

export default function Activity({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <ActivityScreen
      entries={loaderData.entries}
      error={actionData && 'error' in actionData ? actionData.error : undefined}
    />
  );
}
