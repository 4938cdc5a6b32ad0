import type { Project } from '#core/project/scan/project';
import type { Steps } from '#core/steps';
import type { Database } from '#server/db/connection';
import { inTurns } from '#server/in-turns';
import { type ShapeState, shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';
import { sceneTextSteps } from '#server/views/packed/packed-scene';
import type { AssemblyView } from './assembly-view';

type ViewSteps<View> = (
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
  /** The rest of the address. */
  asked: URLSearchParams,
) => Steps<View>;

/** The view of an assembly that an address asks for, with its scene as text. @throws Response where there is no such file */
export async function sentAssembly<View extends AssemblyView>(
  db: Database,
  projectId: string,
  { url }: Request,
  steps: ViewSteps<View>,
): Promise<Omit<View, 'scene'> & { sceneText: string }> {
  const { searchParams } = new URL(url);
  const wanted = searchParams.get('file');
  const scanned = await loadProject(db, projectId);
  requireNamed(scanned, wanted);
  const shapes = await shapesOf(db, scanned, projectId);
  const { scene, ...view } = await inTurns(steps(scanned, shapes, projectId, wanted, searchParams));
  return { ...view, sceneText: await inTurns(sceneTextSteps(scene)) };
}
