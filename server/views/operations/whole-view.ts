import type { SceneData } from '#core/geometry/scene';
import { type Whole, wholeStructureSteps } from '#core/geometry/whole/whole';
import { appearanceOf } from '#core/product/appearance';
import type { MadeBefore } from '#core/project/scan/made-before';
import { type Project, startingPoints } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { Steps } from '#core/steps';
import type { ProjectAccess } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { type ShapeState, shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { madeBeforeBy } from '#server/views/files/made-before';
import { requireNamed } from '#server/views/files/named-file';
import { presetsFor } from '#server/views/operations/presets-view';
import { sceneTextSteps } from '#server/views/packed/packed-scene';
import { Pictures } from '#server/views/structure/scene';

/** The page before anything is planned. */
export interface WholeView {
  root: string | null;
  /** Files to choose from. */
  roots: string[];
  /** Every placed body is a row of its own, in the order of the whole. */
  scene: SceneData;
  /** Why there is nothing to be shown. */
  trouble: string | null;
  /** What the page's operation has made of it before. */
  before: MadeBefore | null;
  /** Presets for the page's operation. */
  presets: Awaited<ReturnType<typeof presetsFor>>;
}

function* wholeViewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
): Steps<Omit<WholeView, 'before' | 'presets'>> {
  const parts = [...project.files.values()].filter(
    ({ scan }) => scan.role === 'assembly' || scan.role === 'part',
  );
  const assemblies = parts.filter(({ scan }) => scan.role === 'assembly').map(({ path }) => path);
  const roots = [...new Set([...startingPoints(project), ...assemblies, ...parts.map(({ path }) => path)])];
  const root = wanted !== null && project.files.has(wanted) ? wanted : (roots[0] ?? null);
  const nothing: SceneData = { bodies: [], instances: [] };
  if (root === null) return { root, roots, scene: nothing, trouble: null };
  try {
    const whole = yield* wholeStructureSteps(project, root);
    return { root, roots, scene: wholeScene(whole, new Pictures(project, shapes, projectId)), trouble: null };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return { root, roots, scene: nothing, trouble: error.message };
  }
}

/** The page of whatever works on a whole: what its address names, or the first there is. @throws 404 for a file that is not there */
export async function wholeViewOf(
  { db, project }: Pick<ProjectAccess, 'db' | 'project'>,
  request: Request,
  operation: string,
): Promise<Omit<WholeView, 'scene'> & { sceneText: string }> {
  const wanted = new URL(request.url).searchParams.get('file');
  const scanned = await loadProject(db, project.id);
  requireNamed(scanned, wanted);
  const shapes = await shapesOf(db, scanned, project.id);
  const { scene, ...view } = await inTurns(wholeViewSteps(scanned, shapes, project.id, wanted));
  return {
    ...view,
    before: await madeBeforeBy(db, scanned, view.root, operation),
    presets: await presetsFor(db, scanned, operation),
    sceneText: await inTurns(sceneTextSteps(scene)),
  };
}

/** A whole as the stage draws it: a row for each placed body. */
export function wholeScene(whole: Whole, pictures: Pictures): SceneData {
  return {
    bodies: whole.shapes.map(({ sha256, body }) => pictures.of(sha256, body.id, appearanceOf(body))),
    instances: whole.bodies.map(({ shape, occurrence, placement }, row) => ({
      row,
      body: shape,
      placement,
      name: nameOf(whole, occurrence, shape),
    })),
  };
}

function nameOf(whole: Whole, occurrence: number, shape: number): string {
  const { name, bodies } = whole.occurrences[occurrence]!;
  const { body } = whole.shapes[shape]!;
  return bodies.length > 1 && body.name ? `${name}: ${body.name}` : name;
}
