import { useSearchParams } from 'react-router';
import { z } from 'zod';
import { inProject } from '#server/auth/guard';
import { measuredBodies, shapesOf } from '#server/jobs/shapes';
import { doneWithFile } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { cutView, partToCut } from '#server/views/operations/cut-view';
import { CutScreen } from '../screens/cut/CutScreen';
import { NothingToCut } from '../screens/cut/NothingToCut';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/cut';

export const meta = titled('Cut a body');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  requireNamed(scanned, search.get('file'));
  const file = partToCut(scanned, search.get('file'));
  const sha256 = file === null ? undefined : scanned.files.get(file)?.sha256;
  const measured = sha256 === undefined ? undefined : await measuredBodies(db, sha256);
  const body = z.coerce.number().int().safeParse(search.get('body'));
  return {
    done: file === null ? [] : await doneWithFile(db, project.id, file, ['cut']),
    view: cutView(
      scanned,
      await shapesOf(db, scanned, project.id),
      measured,
      project.id,
      file,
      body.success ? body.data : null,
    ),
  };
});

export const shouldRevalidate = revalidateOnNewData;

export default function Cut({ loaderData: { view, done } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  // By what was asked for: a body that was cut is no longer there, and the page still tells of it.
  return view ? (
    <CutScreen key={`${search.get('file')} ${search.get('body')}`} {...view} done={done} />
  ) : (
    <NothingToCut />
  );
}
