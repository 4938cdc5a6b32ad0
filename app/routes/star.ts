import { data } from 'react-router';
import { z } from 'zod';
import { answerInProject } from '#server/auth/guard';
import { ownerOf } from '#server/jobs/tasks';
import { setStar } from '#server/projects/people/stars';
import { sentFields } from '#server/sent';
import type { Route } from './+types/star';

const Form = z.object({
  /** Left out for the project itself. */
  path: z.string().min(1).max(4000).optional(),
  starred: z.enum(['yes', 'no']),
});

/** Stars a file or the project for whoever asks, or takes the star away. */
export const action = answerInProject('viewer', async (access, { request }: Route.ActionArgs) => {
  const form = Form.safeParse(await sentFields(request));
  if (!form.success)
    return data({ error: 'What was sent cannot be read. Reload the page.' }, { status: 400 });
  const { path = null, starred } = form.data;
  const isThere = await setStar(access.db, ownerOf(access), path, starred === 'yes');
  // The page reads its files anew, and shows that it is gone.
  if (!isThere) return data({ error: `There is no file ${path} any more.` }, { status: 404 });
  return data({ error: null });
});
