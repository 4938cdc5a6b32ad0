import { z } from 'zod';
import { answerInProject } from '#server/auth/guard';
import { keepValue, keptValue } from '#server/projects/files/kept-values';
import type { Route } from './+types/kept';

const Asked = z.object({ key: z.string().max(64), value: z.string().max(4_000_000) });

/** Values that are too long for an address: what a key stands for. */
export const loader = answerInProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const value = await keptValue(db, project.id, new URL(request.url).searchParams.get('key') ?? '');
  if (value === undefined)
    return Response.json({ error: 'What this address names is not kept any more.' }, { status: 404 });
  return Response.json({ value });
});

/** Keeps one. */
export const action = answerInProject('viewer', async ({ db, project }, { request }: Route.ActionArgs) => {
  const asked = Asked.safeParse(await request.json().catch(() => null));
  if (!asked.success) return Response.json({ error: 'This cannot be read.' }, { status: 400 });
  await keepValue(db, project.id, asked.data.key, asked.data.value);
  return Response.json({});
});
