import { data, redirect } from 'react-router';
import { z } from 'zod';
import { inProject, requireRole } from '#server/auth/guard';
import { invitationsOf, invite, takeBack } from '#server/projects/people/invitations';
import { listMembers, removeMember, setRole } from '#server/projects/people/members';
import { orRefused, sentFields } from '#server/sent';
import { PeopleScreen } from '../screens/people/PeopleScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/people';

export const meta = titled('People');

export const loader = inProject('viewer', async ({ db, user, project, role }) => {
  const mayManage = role === 'owner';
  const [members, invitations] = await Promise.all([
    listMembers(db, project.id),
    mayManage ? invitationsOf(db, project.id) : [],
  ]);
  return {
    me: user.id,
    mayManage,
    members,
    invitations,
  };
});

const Role = z.enum(['owner', 'editor', 'viewer']);
const Form = z.discriminatedUnion('do', [
  z.object({ do: z.literal('invite'), email: z.email('Write an e-mail address.').max(320), role: Role }),
  z.object({ do: z.literal('take-back'), id: z.uuid() }),
  z.object({ do: z.literal('role'), user: z.uuid(), role: Role }),
  z.object({ do: z.literal('remove'), user: z.uuid() }),
  z.object({ do: z.literal('leave') }),
]);

export const action = inProject('viewer', async (access, { request }: Route.ActionArgs) => {
  const { db, user, project } = access;
  const form = Form.safeParse(await sentFields(request));
  // Anybody may leave; everything else is for owners.
  if (form.data?.do !== 'leave') requireRole(access, 'owner');
  if (!form.success) return data({ error: form.error.issues[0]!.message }, { status: 400 });
  return orRefused(async () => {
    const asked = form.data;
    switch (asked.do) {
      case 'leave':
        await removeMember(db, project.id, user.id, user.id);
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
    }
    return { saved: true };
  });
});

export default function People({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <PeopleScreen
      {...loaderData}
      error={actionData && 'error' in actionData ? actionData.error : undefined}
    />
  );
}
