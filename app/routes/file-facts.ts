import { data } from 'react-router';
import { answerInProject } from '#server/auth/guard';
import { doneWithFile, versionsOf } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { type FileFacts, fileLinks, madeReportOf } from '#server/views/files/file-facts';
import { outsideOf } from '#server/views/files/made-before';
import { clientAsks } from '../ui/connection/connection';
import type { Route } from './+types/file-facts';

/** Operations whose outcome says nothing of the file that they began with. */
const LEAVES_NO_TIE = ['cut', 'package', 'publish'];

/** What a file uses, where it is used, and its versions. */
export const loader = answerInProject(
  'viewer',
  async ({ db, project }, { request }: Route.LoaderArgs): Promise<FileFacts> => {
    const path = new URL(request.url).searchParams.get('path') ?? '';
    const scanned = await loadProject(db, project.id);
    if (!scanned.files.has(path)) throw data(`There is no file ${path}.`, { status: 404 });
    const outside = await outsideOf(db, scanned);
    return {
      ...fileLinks(scanned, path, outside),
      made: madeReportOf(scanned, path, outside),
      versions: await versionsOf(db, project.id, path),
      done: await doneWithFile(db, project.id, path, LEAVES_NO_TIE),
    };
  },
);

export const clientLoader = clientAsks<FileFacts>;
