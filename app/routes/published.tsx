import { data } from 'react-router';
import { z } from 'zod';
import { inProject } from '#server/auth/guard';
import { withdraw } from '#server/projects/catalogue/publications';
import { orRefused, sentFields } from '#server/sent';
import { catalogueView } from '#server/views/operations/catalogue-view';
import { PublishedScreen } from '../screens/catalogue/PublishedScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/published';

export const meta = titled('Catalogue');

export const loader = inProject('viewer', async ({ db, project, role }) => ({
  ...(await catalogueView(db, project.id)),
  mayPublish: role !== 'viewer',
}));

const Withdrawn = z.object({ id: z.uuid() });

export const action = inProject('editor', async ({ db, user, project }, { request }: Route.ActionArgs) => {
  const form = Withdrawn.safeParse(await sentFields(request));
  if (!form.success) return data({ error: form.error.issues[0]!.message }, { status: 400 });
  return orRefused(async () => {
    await withdraw(db, project.id, user.id, form.data.id);
    return { saved: true };
  });
});

export default function Published({ loaderData, actionData }: Route.ComponentProps) {
  return (
    <PublishedScreen
      {...loaderData}
      error={actionData && 'error' in actionData ? actionData.error : undefined}
    />
  );
}
