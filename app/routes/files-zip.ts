import { Readable } from 'node:stream';
import { data } from 'react-router';
import { KEY_MARK } from '#core/long-value';
import { answerInProject } from '#server/auth/guard';
import { asDownload } from '#server/download';
import { keptValue } from '#server/projects/files/kept-values';
import { ZipOfContents } from '#server/projects/files/zip-of-contents';
import { loadProject } from '#server/projects/scan/project-scan';
import { readPaths } from '../ui/address/paths-in-address';
import type { Route } from './+types/files-zip';

/** Some files, just as they are, with their folders, as one download. */
export const loader = answerInProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const written = new URL(request.url).searchParams.get('what') ?? '';
  const what = written.startsWith(KEY_MARK) ? await keptValue(db, project.id, written) : written;
  const scanned = await loadProject(db, project.id);
  const files = [...readPaths(what ?? null)].flatMap((path) => scanned.files.get(path) ?? []);
  if (files.length === 0)
    throw data('None of these files is there any more. Select them again.', { status: 404 });
  const zip = new ZipOfContents(db, new Date());
  for (const { path, sha256, bytes } of files) zip.addContent(path, sha256, bytes);
  return new Response(Readable.toWeb(zip.end()) as ReadableStream, {
    headers: asDownload(`${project.name}, ${files.length} files.zip`, 'application/zip'),
  });
});
