import { answerInProject } from '#server/auth/guard';
import { runningIn } from '#server/views/operations/running';

/** What is under way in a project, as far as whoever asks may know. */
export const loader = answerInProject('viewer', async (access) =>
  Response.json(await runningIn(access), { headers: { 'Cache-Control': 'no-store' } }),
);
