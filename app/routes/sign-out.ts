import { redirect } from 'react-router';
import { refuseForeignForm } from '#server/auth/guard';
import { signOut } from '#server/auth/sessions';
import { database } from '#server/db/connection';
import type { Route } from './+types/sign-out';

export async function action({ request }: Route.ActionArgs) {
  refuseForeignForm(request);
  return redirect('/sign-in', { headers: { 'Set-Cookie': await signOut(database(), request) } });
}

export const loader = () => redirect('/projects');
