import { data } from 'react-router';
import { z } from 'zod';
import { Refusal } from '#core/refusal';
import { inProject } from '#server/auth/guard';
import { listMembers, removeMember, setMember, updateProject } from '#server/projects/members';
import { PeopleScreen } from '../screens/people/PeopleScreen';
import { titled } from '../ui/titles';
import type { Route } from './+types/people';

export const meta = titled('People');

export const loader = inProject('viewer', async ({ db, user, project, role }) => {
  const { name, description, searchFolders } = project;
  return {
    me: user.id,
    mayManage: role === 'owner',
    project: { name, description, searchFolders },
    members: await listMembers(db, project.id),
  };
});

const Form = z.discriminatedUnion('do', [
  z.object({
    do: z.literal('set'),
    email: z.email('Write an e-mail address.'),
    role: z.enum(['owner', 'editor', 'viewer']),
  }),
  z.object({ do: z.literal('remove'), user: z.uuid() }),
  z.object({
    do: z.literal('project'),
    name: z.string().trim().min(1, 'Give the project a name.').max(120),
    description: z.string().trim().max(500),
    searchFolders: z.string().max(5000),
  }),
]);

export const action = inProject('owner', async ({ db, user, project }, { request }: Route.ActionArgs) => {
  const form = Form.safeParse(Object.fromEntries(await request.formData()));
  if (!form.success) return data({ error: form.error.issues[0]!.message }, { status: 400 });
  try {
    if (form.data.do === 'set') await setMember(db, project.id, user.id, form.data.email, form.data.role);
    else if (form.data.do === 'remove') await removeMember(db, project.id, user.id, form.data.user);
    else
      await updateProject(db, project.id, user.id, {
        ...form.data,
        searchFolders: form.data.searchFolders.split('\n'),
      });
    return { saved: true };
  } catch (error) {
    if (error instanceof Refusal) return data({ error: error.message }, { status: 409 });
    throw error;
  }
});

export default function People({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <PeopleScreen
      {...loaderData}
      error={actionData && 'error' in actionData ? actionData.error : undefined}
    />
  );
}
