import { inProject } from '#server/auth/guard';
import { shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { madeBeforeBy } from '#server/views/files/made-before';
import { requireNamed } from '#server/views/files/named-file';
import { splitView } from '#server/views/operations/split-view';
import { SplitScreen } from '../screens/split/SplitScreen';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/split';

export const meta = titled('Split');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const scanned = await loadProject(db, project.id);
  const search = new URL(request.url).searchParams;
  requireNamed(scanned, search.get('file'));
  const view = splitView(
    scanned,
    await shapesOf(db, scanned, project.id),
    project.id,
    search.get('file'),
    search.get('product'),
  );
  return { ...view, before: await madeBeforeBy(db, scanned, view.path, 'split') };
});

export const shouldRevalidate = revalidateOnNewData;

export default function Split({ loaderData }: Route.ComponentProps) {
  return <SplitScreen key={`${loaderData.path} ${loaderData.product}`} {...loaderData} />;
}
