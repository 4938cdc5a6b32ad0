import { data, redirect } from 'react-router';
import { z } from 'zod';
import { DEMO_USERS } from '#demo/account';
import { forEverybody, refuseForeignForm } from '#server/auth/guard';
import { SignInError, signIn } from '#server/auth/sessions';
import { environment } from '#server/environment';
import { sentFields } from '#server/sent';
import { SignInScreen } from '../screens/signin/SignInScreen';
import type { Route } from './+types/sign-in';

const SignInForm = z.object({
  email: z.email('Write your e-mail address.').max(200),
  password: z.string().min(1, 'Write your password.').max(200),
});

export const meta = () => [{ title: 'Sign in · Stone Tray' }];

export function loader() {
  const { engineer } = DEMO_USERS;
  return { demo: environment().demo ? { email: engineer.email, password: engineer.password } : null };
}

export const action = forEverybody(async (db, { request }: Route.ActionArgs) => {
  refuseForeignForm(request);
  const form = SignInForm.safeParse(await sentFields(request));
  if (!form.success) return data({ error: form.error.issues[0]!.message }, { status: 400 });
  try {
    const header = await signIn(db, request, form.data.email, form.data.password);
    return redirect(insideOnly(new URL(request.url).searchParams.get('next')), {
      headers: { 'Set-Cookie': header },
    });
  } catch (error) {
    if (error instanceof SignInError) return data({ error: error.message }, { status: 401 });
    throw error;
  }
});

/** Stands for the address of the application, whatever that is. */
const HERE = 'http://here.invalid';

/** What the addresses of our pages begin with. */
const OURS = new Set(['projects', 'account', 'catalogue']);

/** Never lead to another site after signing in. */
function insideOnly(next: string | null): string {
  if (next === null || !URL.canParse(next, HERE)) return '/projects';
  // As a browser reads it: blanks and backslashes make other addresses of what looks like a path.
  const { origin, pathname, search, hash } = new URL(next, HERE);
  const isOurs = origin === HERE && next.startsWith('/') && OURS.has(pathname.split('/')[1]!);
  return isOurs ? pathname + search + hash : '/projects';
}

export default function SignIn({ loaderData, actionData }: Route.ComponentProps) {
  return <SignInScreen demo={loaderData.demo} error={actionData?.error} />;
}
