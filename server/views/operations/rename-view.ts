import { partsBelow, standInsFor } from '#core/jobs/rename/parts';
import { hasStructure } from '#core/project/formats/endings';
import type { Project } from '#core/project/scan/project';
import { keyOf } from '#core/project/scan/tree';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';
import { type AssemblyView, assemblyViewSteps } from './assembly-view';

/** A part that can be called something else. */
export interface NamedPart {
  /** Its file and its number there. */
  key: string;
  file: string;
  definition: number;
  id: string;
  name: string;
  /** Stand-ins for it in other files. */
  standIns: number;
  /** Whether its file is about it, and nothing else. */
  isItsOwn: boolean;
}

/** What can be renamed in an assembly and below it, before anything is planned. */
export interface RenameView extends AssemblyView {
  parts: NamedPart[];
}

const RESTS = 64;
/** More rows help nobody who renames. */
const MOST_PARTS = 20_000;

/** @param wanted the file that is asked for */
export function* renameViewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
): Steps<RenameView> {
  const view = yield* assemblyViewSteps(project, shapes, projectId, {
    wanted,
    hasComponents: ({ path }) => hasStructure(path),
    keyOf: ({ file, definition }) => `${file}#${definition}`,
  });
  const parts: NamedPart[] = [];
  if (view.file === null) return { ...view, parts };
  let own = 0;
  for (const place of partsBelow(project, view.file)) {
    if (++own % RESTS === 0) yield;
    const { path, product, broken } = place;
    // What is not found, or has no product structure, has no name that could be changed.
    if (broken || product.definition === 0 || !hasStructure(path) || parts.length === MOST_PARTS) continue;
    parts.push({
      key: keyOf(place),
      file: path,
      definition: product.definition,
      id: product.id,
      name: product.name,
      standIns: standInsFor(project, place).length,
      isItsOwn: own === 1 || path !== view.file,
    });
  }
  return { ...view, parts };
}
