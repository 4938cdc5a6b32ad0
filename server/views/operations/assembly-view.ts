import type { SceneData } from '#core/geometry/scene';
import type { Project, ScannedFile } from '#core/project/scan/project';
import { type StructureRow, structureSteps } from '#core/project/scan/structure-table';
import type { Placing } from '#core/project/scan/tree';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';
import { Pictures, sceneSteps } from '#server/views/structure/scene';

/** More of an assembly does not help to see which of its components are meant. */
const LIMITS = { rows: 10_000, instances: 20_000 };

/** Other assemblies place a file several times: what changes in it shows at all of its places. */
export interface ShownElsewhere {
  places: number;
  /** The first of them, and where it places the file: the number of the product that does. */
  in: { file: string; parent: number };
}

/** An assembly file of which some components are chosen, in a table and on the stage. */
export interface AssemblyView {
  file: string | null;
  /** Assembly files that hold components that could be chosen. */
  files: string[];
  scene: SceneData;
  /** Of each row of the scene: the key of the component that it is, '' for none; and the row above, -1 at the top. */
  rows: { key: string; parent: number }[];
  shows?: ShownElsewhere;
}

interface Offered {
  wanted: string | null;
  hasComponents: (file: ScannedFile) => boolean;
  /** Whether parts can be chosen, too. */
  withParts?: boolean;
  /** Of a row that is a component that can be chosen, or '' */
  keyOf: (row: StructureRow, file: string, placings: readonly Placing[]) => string;
  /** Whether placings of one product below one parent are rows of their own. */
  oneByOne?: boolean;
}

/** @param offered what can be chosen; `wanted` is the file that is asked for: the first that holds such components unless it is said */
export function* assemblyViewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  { wanted, hasComponents, withParts = false, keyOf, oneByOne = false }: Offered,
): Steps<AssemblyView> {
  const files = [...project.files.values()].flatMap((file) =>
    (file.scan.role === 'assembly' || (withParts && file.scan.role === 'part')) &&
    !file.scan.error &&
    hasComponents(file)
      ? [file.path]
      : [],
  );
  const file = wanted ?? files[0] ?? null;
  if (file === null) return { file, files, scene: { bodies: [], instances: [] }, rows: [] };
  const table = yield* structureSteps(project, file, !oneByOne, LIMITS);
  return {
    file,
    files: files.includes(file) ? files : [file, ...files],
    scene: yield* sceneSteps(table, new Pictures(project, shapes, projectId)),
    rows: table.rows.map((row, n) => ({ key: keyOf(row, file, table.placings[n]!), parent: row.parent })),
  };
}
