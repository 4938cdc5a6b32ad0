import { Readable } from 'node:stream';
import { answerInProject } from '#server/auth/guard';
import { asDownload } from '#server/download';
import { exportProject } from '#server/projects/life/export';
import { writeLog } from '#server/projects/projects';
import type { Route } from './+types/export';

/** The whole project with its history, as a download; streamed, so it begins at once. */
export const loader = answerInProject('owner', async ({ db, user, project }, _: Route.LoaderArgs) => {
  const { name, zip } = await exportProject(db, project.id, new Date());
  await writeLog(db, project.id, user.id, 'project', 'Exported the project with its history');
  return new Response(Readable.toWeb(zip) as ReadableStream, {
    headers: asDownload(`${name}.zip`, 'application/zip'),
  });
});
