import type { FileToWorkOn } from '#core/accepts';
import type { SceneData } from '#core/geometry/scene';
import { densityOf } from '#core/product/materials';
import type { Use } from '#core/product/structure';
import type { Project } from '#core/project/scan/project';
import { originalOf, startingPoints } from '#core/project/scan/project';
import { type StructureRow, structureTable } from '#core/project/scan/structure-table';
import { countLeaves } from '#core/project/scan/tree';
import type { ShapeState } from '#server/jobs/shapes';
import { fileToWorkOn } from '#server/views/files/file-to-work-on';
import { Pictures, sceneData } from './scene';
import { type RowTotals, totalsOf } from './structure-totals';

/** A row of the structure with what the kernel found out about its bodies. */
export interface StructureViewRow extends StructureRow {
  /** mm³ of one placing's own bodies; null while it is not known. */
  volume: number | null;
  /** Box of the own bodies in the file's coordinates, mm; null while it is not known. */
  box: number[] | null;
  /** What it is made of, where its file says so. */
  material: string | null;
  /** What it is for the bill of materials. */
  use: Use | null;
  /** The file that its file is a lite model of. */
  liteOf: string | null;
  /** Why bodies have no shape. */
  troubles: string[];
  /** With all that lies below it. */
  totals: RowTotals;
}

export interface StructureView {
  root: string | null;
  roots: string[];
  rows: StructureViewRow[];
  scene: SceneData;
  occurrences: number;
  distinctParts: number;
  /** The files of the rows, by path. */
  files: { [path: string]: FileToWorkOn & { bytes: number } };
}

export function structureView(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
  grouped: boolean,
): StructureView {
  const roots = startingPoints(project);
  const root = wanted !== null && project.files.has(wanted) ? wanted : (roots[0] ?? null);
  if (root === null)
    return {
      root,
      roots,
      rows: [],
      scene: { bodies: [], instances: [] },
      occurrences: 0,
      distinctParts: 0,
      files: {},
    };
  const table = structureTable(project, root, grouped);
  const known = table.rows.map((row) => {
    const product = project.files
      .get(row.file)
      ?.scan.products.find(({ definition }) => definition === row.definition);
    return {
      ...row,
      ...factsOfRow(project, shapes, row),
      material: product?.material ?? null,
      use: product?.use ?? null,
      liteOf: row.link ? originalOf(project, row.file) : null,
    };
  });
  const totals = totalsOf(known.map((row) => ({ ...row, density: densityOf(row.material) })));
  const rows = known.map((row, n) => ({ ...row, totals: totals[n]! }));
  return {
    root,
    roots: roots.includes(root) ? roots : [root, ...roots],
    rows,
    scene: sceneData(table, new Pictures(project, shapes, projectId)),
    ...countLeaves(project, [root]),
    files: Object.fromEntries(
      [...new Set(rows.map(({ file }) => file))].flatMap((path) => {
        const file = project.files.get(path);
        return file ? [[path, { ...fileToWorkOn(project, file), bytes: file.bytes }]] : [];
      }),
    ),
  };
}

function factsOfRow(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  row: StructureRow,
): Pick<StructureViewRow, 'volume' | 'box' | 'troubles'> {
  const file = row.bodies > 0 ? project.files.get(row.file) : undefined;
  const known = file && shapes.get(file.sha256)?.bodies;
  if (!file || !known) return { volume: null, box: null, troubles: [] };
  const ids = new Set(
    file.scan.products.find(({ definition }) => definition === row.definition)?.bodies.map(({ id }) => id),
  );
  const own = known.filter(({ body }) => ids.has(body));
  const troubles = own.flatMap(({ error, facts }) => error ?? facts?.doubt ?? []);
  const facts = own.flatMap((body) => body.facts ?? []);
  if (facts.length === 0) return { volume: null, box: null, troubles };
  return {
    volume: facts.reduce((sum, { volume }) => sum + volume, 0),
    box: facts
      .map(({ box }) => box as number[])
      .reduce((all, box) =>
        all.map((value, n) => (n < 3 ? Math.min(value, box[n]!) : Math.max(value, box[n]!))),
      ),
    troubles,
  };
}
