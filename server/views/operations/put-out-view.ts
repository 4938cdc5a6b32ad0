import { type InFileComponent, inFileComponents } from '#core/jobs/putout/components';
import type { Project } from '#core/project/scan/project';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';
import { type AssemblyView, assemblyViewSteps } from './assembly-view';

/** What can be put out of an assembly file, before anything is planned. */
export interface PutOutView extends AssemblyView {
  components: InFileComponent[];
}

/** @param wanted the file that is asked for */
export function* putOutViewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
): Steps<PutOutView> {
  const view = yield* assemblyViewSteps(project, shapes, projectId, {
    wanted,
    hasComponents: ({ scan }) => inFileComponents(scan).length > 0,
    keyOf: (row, file) => (row.file === file && row.link === null ? String(row.definition) : ''),
  });
  const scan = view.file === null ? undefined : project.files.get(view.file)!.scan;
  // As people read an assembly: what is above stands first.
  return { ...view, components: scan ? inFileComponents(scan).reverse() : [] };
}
