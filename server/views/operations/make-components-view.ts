import { productsWithLooseBodies } from '#core/jobs/components/loose-bodies';
import type { Project } from '#core/project/scan/project';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';
import { type AssemblyView, assemblyViewSteps } from './assembly-view';

/** A body that could be a component. */
export interface LooseBody {
  /** Its number in the file. */
  body: number;
  name: string;
  /** The product that holds it, and its number there. */
  parent: string;
  definition: number;
}

/** Bodies that can become components of a part or an assembly, before anything is planned. */
export interface MakeComponentsView extends AssemblyView {
  bodies: LooseBody[];
}

/** @param wanted the file that is asked for */
export function* makeComponentsViewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
): Steps<MakeComponentsView> {
  const view = yield* assemblyViewSteps(project, shapes, projectId, {
    wanted,
    hasComponents: ({ scan }) => scan.damage === null && productsWithLooseBodies(scan).length > 0,
    withParts: true,
    keyOf: (row, file) => (row.file === file && row.link === null ? String(row.definition) : ''),
  });
  const scan = view.file === null ? undefined : project.files.get(view.file)!.scan;
  const bodies: LooseBody[] = [];
  for (const { name: parent, definition, bodies: own } of scan ? productsWithLooseBodies(scan) : []) {
    for (const [n, { id, name }] of own.entries())
      bodies.push({ body: id, name: name || `${parent} ${n + 1}`, parent, definition });
    yield;
  }
  return { ...view, bodies };
}
