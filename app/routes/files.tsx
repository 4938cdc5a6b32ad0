import { inProject } from '#server/auth/guard';
import { ownerOf } from '#server/jobs/tasks';
import { starredFiles } from '#server/projects/people/stars';
import { filesPart } from '#server/views/files/files-view';
import { FilesScreen } from '../screens/files/FilesScreen';
import { useAllFiles } from '../screens/files/useAllFiles';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/files';

export const meta = titled('Files');

/** So many come with the page; the rest follows. */
const FIRST = 200;

export const loader = inProject('viewer', async (access) => ({
  part: await filesPart(access, 0, FIRST),
  starred: await starredFiles(access.db, ownerOf(access)),
}));

export { revalidateOnNewData as shouldRevalidate } from '../ui/address/useView';

export default function Files({ loaderData, params }: Route.ComponentProps) {
  const { part, starred } = loaderData;
  return <FilesScreen {...useAllFiles(params.projectId, part)} starred={starred} />;
}
