import { data } from 'react-router';
import { z } from 'zod';
import { changePassword, endOtherSessions, endSession, sessionsOf } from '#server/auth/account';
import { forSignedIn } from '#server/auth/guard';
import { keepPreferences, PREFERENCES } from '#server/auth/kept-preferences';
import { orRefused, sentFields } from '#server/sent';
import { AccountScreen } from '../screens/account/AccountScreen';
import type { Route } from './+types/account';

export const meta = () => [{ title: 'Account · Stone Tray' }];

export const loader = forSignedIn(async ({ db, user }, { request }: Route.LoaderArgs) => ({
  user,
  sessions: (await sessionsOf(db, user, request)).map((session) => ({
    ...session,
    opened: session.opened.toISOString(),
    seen: session.seen.toISOString(),
  })),
}));

const Form = z.discriminatedUnion('do', [
  z.object({ do: z.literal('end'), id: z.uuid() }),
  z.object({ do: z.literal('end-others') }),
  PREFERENCES.extend({ do: z.literal('preferences') }),
  z.object({
    do: z.literal('password'),
    before: z.string().min(1, 'Write the present password.').max(200),
    after: z.string().min(10, 'The new password needs 10 characters or more.').max(200),
  }),
]);

export const action = forSignedIn(async ({ db, user }, { request }: Route.ActionArgs) => {
  const form = Form.safeParse(await sentFields(request));
  if (!form.success) return data({ error: form.error.issues[0]!.message }, { status: 400 });
  return orRefused(async () => {
    if (form.data.do === 'end') await endSession(db, user, form.data.id);
    else if (form.data.do === 'end-others') await endOtherSessions(db, user, request);
    else if (form.data.do === 'preferences') await keepPreferences(db, user, PREFERENCES.parse(form.data));
    else await changePassword(db, user, request, form.data);
    return { done: form.data.do };
  });
});

export default function Account({ loaderData, actionData }: Route.ComponentProps) {
  return <AccountScreen {...loaderData} {...actionData} />;
}
