import { data } from 'react-router';
import { z } from 'zod';
import { answerInProject, archivedInWords } from '#server/auth/guard';
import { ownerOf } from '#server/jobs/tasks';
import { keepValue, keptValue } from '#server/projects/files/kept-values';
import { sentJson } from '#server/sent';
import type { Route } from './+types/kept';

/** Bytes: a list of all files of a large project. */
const LONGEST = 8 * 1024 * 1024;

const Asked = z.object({ key: z.string().max(64), value: z.string().max(4_000_000) });

/** Values that are too long for an address: what a key stands for. */
export const loader = answerInProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const value = await keptValue(db, project.id, new URL(request.url).searchParams.get('key') ?? '');
  if (value === undefined)
    return Response.json({ error: 'What this address names is not kept any more.' }, { status: 404 });
  return Response.json({ value });
});

/** Keeps one. */
export const action = answerInProject('viewer', async (access, { request }: Route.ActionArgs) => {
  const { db, project } = access;
  if (project.isArchived) throw data(archivedInWords(project.name), { status: 403 });
  const { key, value } = await sentJson(request, Asked, LONGEST);
  await keepValue(db, ownerOf(access), key, value);
  return Response.json({});
});
