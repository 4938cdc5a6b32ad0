import { z } from 'zod';
import { forEverybody, refuseForeignForm } from '#server/auth/guard';
import { SignInError, signIn, userOf } from '#server/auth/sessions';
import { sentJson } from '#server/sent';
import type { Route } from './+types/session';

const Asked = z.object({ email: z.email().max(200), password: z.string().min(1).max(200) });

/** Whether the session is still there: a page asks before it loads anew. */
export const loader = forEverybody(async (db, { request }: Route.LoaderArgs) => {
  const user = await userOf(db, request);
  return new Response(null, { status: user ? 204 : 401, headers: { 'Cache-Control': 'no-store' } });
});

/** Signs in again from a page that stays as it is. */
export const action = forEverybody(async (db, { request }: Route.ActionArgs) => {
  refuseForeignForm(request);
  const { email, password } = await sentJson(request, Asked);
  try {
    const header = await signIn(db, request, email, password);
    return new Response(null, { status: 204, headers: { 'Set-Cookie': header } });
  } catch (error) {
    // 403: 401 would say that this, too, waits for a sign-in.
    if (error instanceof SignInError) return Response.json({ error: error.message }, { status: 403 });
    throw error;
  }
});
