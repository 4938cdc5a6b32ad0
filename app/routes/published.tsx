import { data } from 'react-router';
import { z } from 'zod';
import { inProject } from '#server/auth/guard';
import { filesForOutside, publicationsOf, withdraw } from '#server/projects/catalogue/publications';
import { loadProject } from '#server/projects/scan/project-scan';
import { orRefused, sentFields } from '#server/sent';
import { PublishedScreen } from '../screens/catalogue/PublishedScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/published';

export const meta = titled('Catalogue');

export const loader = inProject('viewer', async ({ db, project, role }) => {
  const scanned = await loadProject(db, project.id);
  const published = await publicationsOf(db, project.id);
  return {
    files: (await filesForOutside(db, scanned)).map(({ path }) => ({
      path,
      sha256: scanned.files.get(path)!.sha256,
    })),
    published: published.map((publication) => ({
      ...publication,
      time: publication.time.toISOString(),
      withdrawn: publication.withdrawn?.toISOString() ?? null,
    })),
    mayPublish: role !== 'viewer',
  };
});

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
