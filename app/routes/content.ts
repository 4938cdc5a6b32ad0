import { data } from 'react-router';
import { baseName } from '#core/files/links/paths';
import { answerInProject } from '#server/auth/guard';
import { answerWithBlob } from '#server/db/blobs';
import { asDownload } from '#server/download';
import type { Route } from './+types/content';

/** One kept version of a file, as a download: never shown in the page, whatever it contains. */
export const loader = answerInProject('viewer', async ({ db, project }, { params }: Route.LoaderArgs) => {
  const version = await db('versions').where({ project_id: project.id, sha256: params.sha256 }).first('path');
  if (!version) throw data('There is no such version in this project.', { status: 404 });
  return answerWithBlob(db, params.sha256, asDownload(baseName(version.path)));
});
