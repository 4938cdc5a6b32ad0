import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { answerWithBlob } from '#server/db/blobs';
import { asDownload } from '#server/download';
import { ownerOf, taskState } from '#server/jobs/tasks';
import type { AppliedChange } from '#server/views/planned-view';
import type { Route } from './+types/package';

/** What an operation made for the person, as a download. */
export const loader = answerInProject('viewer', async (access, { request }: Route.LoaderArgs) => {
  const { db } = access;
  const id = new URL(request.url).searchParams.get('package');
  const task = await taskState<AppliedChange>(db, ownerOf(access), id, 'apply');
  if (!task)
    throw data('There is no such package. Packages are kept for a day; write it again.', { status: 404 });
  if (!task.result?.product) throw data('This package is not written yet.', { status: 409 });
  const { name, sha256 } = task.result.product;
  return answerWithBlob(db, sha256, { ...asDownload(name, 'application/zip'), 'Cache-Control': 'no-store' });
});
