import { requireProject } from '#server/auth/guard';
import { newestTask, ownerOf, startTask, waitForTask } from '#server/jobs/tasks';
import { isMeasured, sourcesOf } from '#server/projects/follow';
import { loadProject } from '#server/projects/project-scan';
import type { Comparison } from '#server/worker/comparison';
import { readPaths } from '../screens/sources/paths-in-address';
import { SourcesScreen } from '../screens/sources/SourcesScreen';
import { revalidateOnNewData } from '../ui/useView';
import type { Route } from './+types/sources';

export const meta = () => [{ title: 'Sources · Stone Tray' }];

/** Most comparisons are made in less: then the page comes with them. Milliseconds. */
const PATIENCE = 1200;

export async function loader({ request, params }: Route.LoaderArgs) {
  const access = await requireProject(request, params.projectId, 'viewer');
  const { db, project } = access;
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  const sources = sourcesOf(scanned);
  const source = (sources.find(({ path }) => path === search.get('source')) ?? sources[0])?.path ?? null;
  const nothing = { sources, source, comparison: null, isPreparing: false };
  if (source === null) return nothing;
  if (!(await isMeasured(db, scanned, source))) return { ...nothing, isPreparing: true };
  const owner = ownerOf(access);
  const wanted = {
    source,
    removeGone: search.get('gone') !== 'keep',
    take: [...readPaths(search.get('take'))],
    revision: project.revision,
  };
  // What was compared once is not compared again; what failed or was stopped, only when somebody says so.
  const known = await newestTask<Comparison>(db, owner, 'comparison', wanted);
  const id = known?.id ?? (await startTask(db, owner, 'comparison', wanted));
  const task = await waitForTask<Comparison>(db, owner, id, PATIENCE);
  return { ...nothing, comparison: task ? { task, request: wanted } : null };
}

export const shouldRevalidate = revalidateOnNewData;

export default function Sources({ loaderData }: Route.ComponentProps) {
  return <SourcesScreen {...loaderData} />;
}
