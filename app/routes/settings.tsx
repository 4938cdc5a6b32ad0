import { data, redirect } from 'react-router';
import { z } from 'zod';
import { inProject } from '#server/auth/guard';
import { deleteProject, setArchived, sizeOfProject } from '#server/projects/life/life';
import { updateProject } from '#server/projects/people/members';
import { orRefused, sentFields } from '#server/sent';
import { SettingsScreen } from '../screens/settings/SettingsScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/settings';

export const meta = titled('Project');

export const loader = inProject('viewer', async ({ db, project, role }) => {
  const { name, description, searchFolders, isArchived } = project;
  return {
    mayManage: role === 'owner',
    project: { name, description, searchFolders, isArchived },
    size: await sizeOfProject(db, project.id),
  };
});

const Form = z.discriminatedUnion('do', [
  z.object({
    do: z.literal('project'),
    name: z.string().trim().min(1, 'Give the project a name.').max(120),
    description: z.string().trim().max(500),
    searchFolders: z.string().max(5000),
  }),
  z.object({ do: z.literal('archive') }),
  z.object({ do: z.literal('unarchive') }),
  z.object({ do: z.literal('delete'), name: z.string().max(200) }),
]);

export const action = inProject('owner', async ({ db, user, project }, { request }: Route.ActionArgs) => {
  const form = Form.safeParse(await sentFields(request));
  if (!form.success) return data({ error: form.error.issues[0]!.message }, { status: 400 });
  return orRefused(async () => {
    const asked = form.data;
    switch (asked.do) {
      case 'delete':
        await deleteProject(db, project.id, user.id, asked.name);
        return redirect('/projects');
      case 'archive':
      case 'unarchive':
        await setArchived(db, project.id, user.id, asked.do === 'archive');
        return {};
      case 'project':
        await updateProject(db, project.id, user.id, {
          ...asked,
          searchFolders: asked.searchFolders.split('\n'),
        });
        return { saved: true };
    }
  });
});

export default function Settings({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <SettingsScreen
      {...loaderData}
      error={actionData && 'error' in actionData ? actionData.error : undefined}
      isSaved={actionData !== undefined && 'saved' in actionData}
    />
  );
}
