import type { SceneData } from '#core/geometry/scene';
import { hasStructure } from '#core/project/formats/endings';
import { topProductsOf } from '#core/project/scan/content';
import { type Project, placedAbove } from '#core/project/scan/project';
import { structureSteps } from '#core/project/scan/structure-table';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';
import { Pictures, sceneSteps } from '#server/views/structure/scene';
import { type ArrangeView, arrangeViewSteps } from './arrange-view';

/** What can be placed in an assembly file, and where its components stand, before anything is planned. */
export interface PlaceView extends ArrangeView {
  /** Of each occurrence by its key, as seen from the assembly that holds it: a row-major placement, mm. */
  placements: { [key: string]: readonly number[] };
  /** Files that can be placed in it. */
  parts: { path: string; name: string }[];
  /** The file that is asked for, as it is drawn at its own origin with bodies of the scene. */
  part: { path: string; name: string; instances: SceneData['instances'] } | null;
}

const RESTS = 64;
/** More of a part does not help to see how it lies. */
const LIMITS = { rows: 2000, instances: 5000 };

/** @param wanted the assembly file that is asked for @param asked names the `part` */
export function* placeViewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
  asked: URLSearchParams,
): Steps<PlaceView> {
  const view = yield* arrangeViewSteps(project, shapes, projectId, wanted);
  const placements: PlaceView['placements'] = {};
  const parts: PlaceView['parts'] = [];
  if (view.file === null) return { ...view, placements, parts, part: null };
  for (const { occurrences } of project.files.get(view.file)!.scan.products) {
    for (const { id, placement } of occurrences) placements[id] = placement;
    yield;
  }
  const above = placedAbove(project, view.file);
  for (const [n, { path, scan }] of [...project.files.values()].entries()) {
    if (n % RESTS === 0) yield;
    if (above.has(path) || !hasStructure(path) || scan.error !== null) continue;
    const [top, ...more] = topProductsOf(scan);
    if (top && more.length === 0) parts.push({ path, name: top.name });
  }
  const path = asked.get('part');
  const found = parts.find((one) => one.path === path);
  if (path === null || !found) return { ...view, placements, parts, part: null };

  const table = yield* structureSteps(project, path, true, LIMITS);
  const own = yield* sceneSteps(table, new Pictures(project, shapes, projectId));
  const before = view.scene.bodies.length;
  // All of it is one row behind those of the assembly, which is no component.
  const row = view.rows.length;
  return {
    ...view,
    scene: { ...view.scene, bodies: [...view.scene.bodies, ...own.bodies] },
    rows: [...view.rows, { key: '', parent: -1 }],
    placements,
    parts,
    part: {
      path,
      name: found.name,
      instances: own.instances.map((instance) => ({
        ...instance,
        row,
        body: instance.body + before,
        tone: 'focus' as const,
      })),
    },
  };
}
