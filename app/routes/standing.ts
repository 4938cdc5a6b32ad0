import { answerInProject } from '#server/auth/guard';
import { standingOf } from '#server/views/files/standing';

/** Where a project stands, for a page that begins to listen. */
export const loader = answerInProject('viewer', async ({ db, project }) =>
  Response.json(await standingOf(db, project.id), { headers: { 'Cache-Control': 'no-store' } }),
);
