import { data, redirect } from 'react-router';
import { z } from 'zod';
import { Refusal } from '#core/refusal';
import { inProject, requireRole } from '#server/auth/guard';
import { deleteProject, setArchived, sizeOfProject } from '#server/projects/life/life';
import { invitationsOf, invite, takeBack } from '#server/projects/people/invitations';
import { listMembers, removeMember, setRole, updateProject } from '#server/projects/people/members';
import { sentFields } from '#server/sent';
import { PeopleScreen } from '../screens/people/PeopleScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/people';

export const meta = titled('People');

export const loader = inProject('viewer', async ({ db, user, project, role }) => {
  const { name, description, searchFolders, isArchived } = project;
  const mayManage = role === 'owner';
  const [members, invitations, size] = await Promise.all([
    listMembers(db, project.id),
    mayManage ? invitationsOf(db, project.id) : [],
    sizeOfProject(db, project.id),
  ]);
  return {
    me: user.id,
    mayManage,
    project: { name, description, searchFolders, isArchived },
    members,
    invitations,
    size,
  };
});

const Role = z.enum(['owner', 'editor', 'viewer']);
const Form = z.discriminatedUnion('do', [
  z.object({ do: z.literal('invite'), email: z.email('Write an e-mail address.').max(320), role: Role }),
  z.object({ do: z.literal('take-back'), id: z.uuid() }),
  z.object({ do: z.literal('role'), user: z.uuid(), role: Role }),
  z.object({ do: z.literal('remove'), user: z.uuid() }),
  z.object({ do: z.literal('leave') }),
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

export const action = inProject('viewer', async (access, { request }: Route.ActionArgs) => {
  const { db, user, project } = access;
  const form = Form.safeParse(await sentFields(request));
  // Anybody may leave; everything else is for owners.
  if (form.data?.do !== 'leave') requireRole(access, 'owner');
  if (!form.success) return data({ error: form.error.issues[0]!.message }, { status: 400 });
  try {
    const asked = form.data;
    switch (asked.do) {
      case 'leave':
        await removeMember(db, project.id, user.id, user.id);
        return redirect('/projects');
      case 'delete':
        await deleteProject(db, project.id, user.id, asked.name);
        return redirect('/projects');
      case 'invite':
        await invite(db, project.id, user.id, asked.email, asked.role);
        break;
      case 'take-back':
        await takeBack(db, project.id, user.id, asked.id);
        break;
      case 'role':
        await setRole(db, project.id, user.id, asked.user, asked.role);
        break;
      case 'remove':
        await removeMember(db, project.id, user.id, asked.user);
        break;
      case 'archive':
      case 'unarchive':
        await setArchived(db, project.id, user.id, asked.do === 'archive');
        break;
      case 'project':
        await updateProject(db, project.id, user.id, {
          ...asked,
          searchFolders: asked.searchFolders.split('\n'),
        });
    }
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
