import { answerInProject } from '#server/auth/guard';
import { filesPart } from '#server/views/files/files-view';
import type { FilesPart } from '#server/views/packed/packed-rows';
import type { Route } from './+types/file-rows';

/** So many are sent at once: a few megabytes at most. */
const MOST = 20_000;

/** The rows of the table of files from one on. */
export const loader = answerInProject(
  'viewer',
  (access, { request }: Route.LoaderArgs): Promise<FilesPart> => {
    const from = Number(new URL(request.url).searchParams.get('from'));
    return filesPart(access, Number.isSafeInteger(from) && from > 0 ? from : 0, MOST);
  },
);
