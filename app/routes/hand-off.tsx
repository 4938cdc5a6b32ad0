import { HandOffOptions, planHandOff } from '#core/handoff/plan';
import { Refusal } from '#core/refusal';
import { requireProject } from '#server/auth/guard';
import { shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/project-scan';
import { startingPoints, structureView } from '#server/views/structure-view';
import { HandOffScreen } from '../screens/handoff/HandOffScreen';
import type { Route } from './+types/hand-off';

export const meta = () => [{ title: 'Hand-off · Stone Tray' }];

export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  const assemblies = [...scanned.files.values()]
    .filter(({ scan }) => scan.role === 'assembly')
    .map(({ path }) => path);
  const roots = [...new Set([...startingPoints(scanned), ...assemblies])];
  const root = roots.includes(search.get('root') ?? '') ? search.get('root')! : roots[0];
  if (root === undefined) return { root: null, roots, plan: null, scene: null, error: null };
  const { scene } = structureView(scanned, await shapesOf(db, scanned), project.id, root, true);
  const options = HandOffOptions.parse({
    root,
    flatten: search.has('flatten'),
    prefix: (search.get('prefix') ?? '').slice(0, 60),
    suffix: (search.get('suffix') ?? '').slice(0, 60),
    allowBroken: true,
  });
  try {
    const { files, broken, notes, rootInside } = planHandOff(scanned, options);
    return {
      root,
      roots,
      scene,
      error: null,
      plan: {
        rootInside,
        notes,
        files: files.map(({ from, to, why, bytes, retargets }) => ({
          from,
          to,
          why,
          bytes,
          rewrites: retargets.length,
        })),
        broken: broken.map(({ from, written, state, reason }) => ({ from, written, state, reason })),
      },
    };
  } catch (error) {
    if (error instanceof Refusal) return { root, roots, scene, plan: null, error: error.message };
    throw error;
  }
}

export default function HandOff({ loaderData }: Route.ComponentProps) {
  return <HandOffScreen {...loaderData} />;
}
