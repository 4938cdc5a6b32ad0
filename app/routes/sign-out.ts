import { redirect } from 'react-router';
import { forEverybody, refuseForeignForm } from '#server/auth/guard';
import { signOut } from '#server/auth/sessions';
import type { Route } from './+types/sign-out';

export const action = forEverybody(async (db, { request }: Route.ActionArgs) => {
  refuseForeignForm(request);
  return redirect('/sign-in', { headers: { 'Set-Cookie': await signOut(db, request) } });
});

export const loader = () => redirect('/projects');
