import type { SceneData } from '#core/geometry/scene';
import { type InFileComponent, inFileComponents } from '#core/jobs/putout/components';
import type { Project } from '#core/project/scan/project';
import { structureSteps } from '#core/project/scan/structure-table';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';
import { Pictures, sceneSteps } from '#server/views/structure/scene';

/** More of an assembly does not help to see what becomes a file. */
const LIMITS = { rows: 10_000, instances: 20_000 };

/** What can be put out of an assembly file, before anything is planned. */
export interface PutOutView {
  file: string | null;
  /** Assembly files that hold components. */
  files: string[];
  components: InFileComponent[];
  scene: SceneData;
  /** Of each row of the scene: the component that it is in this file, 0 for what is none; and the row above, -1 at the top. */
  rows: { definition: number; parent: number }[];
}

/** @param wanted the file that is asked for; the first that holds components unless it is said */
export function* putOutViewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
): Steps<PutOutView> {
  const files = [...project.files.values()].flatMap(({ path, scan }) =>
    scan.role === 'assembly' && !scan.error && inFileComponents(scan).length > 0 ? [path] : [],
  );
  const file = wanted ?? files[0] ?? null;
  if (file === null) return { file, files, components: [], scene: { bodies: [], instances: [] }, rows: [] };
  const table = yield* structureSteps(project, file, true, LIMITS);
  return {
    file,
    files: files.includes(file) ? files : [file, ...files],
    // As people read an assembly: what is above stands first.
    components: inFileComponents(project.files.get(file)!.scan).reverse(),
    scene: yield* sceneSteps(table, new Pictures(project, shapes, projectId)),
    rows: table.rows.map((row) => ({
      definition: row.file === file && row.link === null ? row.definition : 0,
      parent: row.parent,
    })),
  };
}
