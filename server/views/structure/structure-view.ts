import type { FileToWorkOn } from '#core/accepts';
import type { SceneData } from '#core/geometry/scene';
import { densityOfPart } from '#core/product/materials';
import type { Use } from '#core/product/structure';
import { leavesOf } from '#core/project/scan/counts';
import type { ProductNode } from '#core/project/scan/product-graph';
import type { Project } from '#core/project/scan/project';
import { originalOf, startingPoints } from '#core/project/scan/project';
import { type StructureRow, structureSteps } from '#core/project/scan/structure-table';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';
import { fileToWorkOn } from '#server/views/files/file-to-work-on';
import { Pictures, sceneSteps } from './scene';
import { type RowTotals, totalSteps } from './structure-totals';

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
  /** Placings of bodies that the scene leaves out, since there are too many. */
  undrawn: number;
  occurrences: number;
  distinctParts: number;
  /** The files of the rows, by path. */
  files: { [path: string]: FileToWorkOn & { bytes: number; changed?: string } };
}

/** How much of a structure one page lists and draws; the rest is counted, and listed when somebody opens it. */
const LIMITS = { rows: 10_000, instances: 50_000 };

/** Which structure is asked for. */
export interface WantedStructure {
  /** Null for the first assembly of the project. */
  root: string | null;
  /** Alike placings are one row. */
  grouped: boolean;
  /** Keys of rows that are opened beyond what the page lists. */
  unfold?: readonly string[];
  limits?: { rows: number; instances: number };
  /** When the newest version of each file was made: ISO 8601, by path. */
  changed?: ReadonlyMap<string, string>;
}

/** A structure with all that its page shows. Linear in the lines as they are written and in what is listed. */
export function* structureViewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  { root: wanted, grouped, unfold = [], limits = LIMITS, changed }: WantedStructure,
): Steps<StructureView> {
  const roots = startingPoints(project);
  const root = wanted !== null && project.files.has(wanted) ? wanted : (roots[0] ?? null);
  if (root === null)
    return {
      root,
      roots,
      rows: [],
      scene: { bodies: [], instances: [] },
      undrawn: 0,
      occurrences: 0,
      distinctParts: 0,
      files: {},
    };
  const table = yield* structureSteps(project, root, grouped, { ...limits, unfold });
  const known = new Map<ProductNode, Known>();
  const knownOf = (node: ProductNode) => {
    const facts = known.get(node) ?? factsOf(project, shapes, node);
    known.set(node, facts);
    return facts;
  };
  const totals = yield* totalSteps(table.graph.nodes, (node) => ({
    ...knownOf(node),
    file: fileOf(node),
    bodies: node.place.product.bodies.length,
    density: node.place.broken ? null : densityOfPart(node.place.product),
  }));
  const rows: StructureViewRow[] = [];
  for (const [n, row] of table.rows.entries()) {
    if (n % 256 === 0) yield;
    const node = table.nodes[n]!;
    rows.push({
      ...row,
      ...knownOf(node),
      liteOf: row.link ? originalOf(project, row.file) : null,
      totals: totals.get(node)!,
    });
  }
  const files: StructureView['files'] = {};
  for (const [n, path] of [...new Set(rows.map(({ file }) => file))].entries()) {
    if (n % 64 === 0) yield;
    const file = project.files.get(path);
    if (file)
      files[path] = { ...fileToWorkOn(project, file), bytes: file.bytes, changed: changed?.get(path) };
  }
  return {
    root,
    roots: roots.includes(root) ? roots : [root, ...roots],
    rows,
    scene: yield* sceneSteps(table, new Pictures(project, shapes, projectId)),
    undrawn: table.undrawn,
    ...leavesOf(table.graph),
    files,
  };
}

/** What the kernel and the file say of a product, whatever places it. */
type Known = Pick<StructureViewRow, 'volume' | 'box' | 'troubles' | 'material' | 'use'>;

function fileOf({ place: { path, broken } }: ProductNode): string {
  return broken ? broken.written : path;
}

function factsOf(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  { place: { path, product, broken } }: ProductNode,
): Known {
  const said = broken
    ? { material: null, use: null }
    : { material: product.material ?? null, use: product.use ?? null };
  const file = product.bodies.length > 0 && !broken ? project.files.get(path) : undefined;
  const measured = file && shapes.get(file.sha256)?.bodies;
  if (!measured) return { volume: null, box: null, troubles: [], ...said };
  const ids = new Set(product.bodies.map(({ id }) => id));
  const own = measured.filter(({ body }) => ids.has(body));
  const troubles = own.flatMap(({ error, facts }) => error ?? facts?.doubt ?? []);
  const facts = own.flatMap((body) => body.facts ?? []);
  if (facts.length === 0) return { volume: null, box: null, troubles, ...said };
  return {
    volume: facts.reduce((sum, { volume }) => sum + volume, 0),
    box: facts
      .map(({ box }) => box as number[])
      .reduce((all, box) =>
        all.map((value, n) => (n < 3 ? Math.min(value, box[n]!) : Math.max(value, box[n]!))),
      ),
    troubles,
    ...said,
  };
}
