import { densityOfPart } from '#core/product/materials';
import type { StatedProperty } from '#core/product/properties';
import type { Product } from '#core/product/structure';
import { isStandard, type StandardMark } from '#core/project/formats/standard-marks';
import {
  type ProductGraph,
  type ProductNode,
  productGraphSteps,
  sumsBelow,
  timesBelow,
} from '#core/project/scan/product-graph';
import { structureSteps } from '#core/project/scan/structure-table';
import { MOST_NODES, type ProductTree, topProducts } from '#core/project/scan/tree';
import type { Steps } from '#core/steps';
import type { BillForm } from './bill-form';

/** What a part is for whoever orders: made here, bought, a standard part, or there for reference only. */
export type PartUse = 'made' | 'bought' | 'standard' | 'reference';

/** A line of a bill of materials. */
export interface BillRow {
  /** 1 directly below the assembly. */
  level: number;
  id: string;
  name: string;
  /** The file it is in; as it is written, where that is not there. */
  file: string;
  /** PRODUCT_DEFINITION in `file`; 0 where there is none. */
  definition: number;
  isAssembly: boolean;
  /** Its own. */
  bodies: number;
  /** What places it, or the first that does: its file, and its PRODUCT_DEFINITION there. */
  holder: { file: string; definition: number };
  /** Whether the holder places it by a link to another file. */
  isLinked: boolean;
  /** Its file was not found: neither is anything known of it. */
  isMissing: boolean;
  /** In its assembly; in the whole where it stands once for all its places. */
  quantity: number;
  /** In the whole. */
  total: number;
  material: string | null;
  /** kg/m³ */
  density: number | null;
  /** Of one, with all that is below it, mm³; null while it is not known. */
  volume: number | null;
  /** Of one, with all that is below it, kg; null while volume or material of something is not known. */
  mass: number | null;
  /** Of all in the whole, kg. */
  totalMass: number | null;
  use: PartUse | null;
  properties: StatedProperty[];
}

/** What a bill knows of the size of a product's own bodies. */
export interface BillFacts {
  /** Of the product's own bodies, mm³; null where it is not known. */
  volumeOf(path: string, product: Product): number | null;
  standard: readonly StandardMark[];
}

const TO_KILOGRAMS = 1e-9;

/** Own volume and mass of one product with all that it places. */
interface Heavy {
  volume: number | null;
  mass: number | null;
}

/**
 * The bill of materials of an assembly: what it places, at every level. Grows with the lines as they are written, and with the rows that come
 * out, of which there are 200,000 at most.
 */
export function* billSteps(
  tree: ProductTree,
  path: string,
  form: BillForm,
  facts: BillFacts,
): Steps<BillRow[]> {
  if (form !== 'indented') return yield* listSteps(tree, path, form, facts);
  const limits = { rows: MOST_NODES, instances: 0 };
  const { rows, nodes, graph } = yield* structureSteps(tree, path, true, limits);
  const heavy = heavyOf(graph, facts);
  return rows.flatMap(({ depth, quantity, total, parent, link }, n) => {
    if (depth === 0) return [];
    const placed = { holder: nodes[parent]!, isLinked: link !== null };
    return [rowOf(nodes[n]!, heavy, facts, { level: depth, quantity, total, placed })];
  });
}

/** Every component once, or only those that place nothing, with how many of it there are in the whole. */
function* listSteps(tree: ProductTree, path: string, form: BillForm, facts: BillFacts): Steps<BillRow[]> {
  const graph = yield* productGraphSteps(tree, topProducts(tree, path));
  const heavy = heavyOf(graph, facts);
  const times = timesBelow(graph);
  const levels = new Map<ProductNode, number>(graph.tops.map((top) => [top, 0]));
  // Each stands behind all that it places.
  for (const node of [...graph.nodes].reverse())
    for (const inner of node.below)
      levels.set(inner, Math.min(levels.get(inner) ?? Infinity, levels.get(node)! + 1));
  const placed = new Map<ProductNode, Placed>();
  for (const holder of graph.nodes)
    for (const [n, inner] of holder.below.entries())
      if (!placed.has(inner)) placed.set(inner, { holder, isLinked: holder.placings[n]!.link !== undefined });
  const tops = new Set(graph.tops);
  return graph.nodes
    .filter((node) => !tops.has(node) && (form === 'flat' || isPart(node)))
    .map((node) => {
      const total = times.get(node)!;
      const level = levels.get(node)!;
      return rowOf(node, heavy, facts, { level, quantity: total, total, placed: placed.get(node)! });
    })
    .sort((a, b) => compared(a.name, b.name) || compared(a.file, b.file));
}

const compared = new Intl.Collator('en', { numeric: true }).compare;

/** What places nothing, or has bodies of its own; what only stands for a file that is not there, too. */
function isPart({ place: { product, broken }, placings }: ProductNode): boolean {
  return placings.length === 0 || product.bodies.length > 0 || broken !== undefined;
}

/** What is not known is no number, and neither is a sum with it. */
function heavyOf(graph: ProductGraph, facts: BillFacts): (node: ProductNode) => Heavy {
  const ownVolume = ({ place: { path, product, broken } }: ProductNode): number => {
    if (broken) return Number.NaN;
    return product.bodies.length === 0 ? 0 : (facts.volumeOf(path, product) ?? Number.NaN);
  };
  const volumes = sumsBelow(graph, ownVolume);
  const masses = sumsBelow(graph, (node) => {
    const own = ownVolume(node);
    return own === 0 ? 0 : own * (densityOfPart(node.place.product) ?? Number.NaN) * TO_KILOGRAMS;
  });
  const known = (value: number) => (Number.isNaN(value) ? null : value);
  return (node) => ({ volume: known(volumes.get(node)!), mass: known(masses.get(node)!) });
}

/** What places a product. */
interface Placed {
  holder: ProductNode;
  isLinked: boolean;
}

function rowOf(
  node: ProductNode,
  heavy: (node: ProductNode) => Heavy,
  { standard }: BillFacts,
  { level, quantity, total, placed }: Pick<BillRow, 'level' | 'quantity' | 'total'> & { placed: Placed },
): BillRow {
  const { path: holder, product: above } = placed.holder.place;
  const { path, product, broken } = node.place;
  const { volume, mass } = heavy(node);
  const file = broken ? broken.written : path;
  return {
    level,
    id: product.id,
    name: product.name,
    file,
    definition: broken ? 0 : product.definition,
    isAssembly: node.placings.length > 0,
    bodies: product.bodies.length,
    holder: { file: holder, definition: above.definition },
    isLinked: placed.isLinked,
    isMissing: broken !== undefined,
    quantity,
    total,
    material: broken ? null : (product.material ?? null),
    density: broken ? null : densityOfPart(product),
    volume,
    mass,
    totalMass: mass === null ? null : mass * total,
    use: isStandard(standard, file) ? 'standard' : broken ? null : (product.use ?? null),
    properties: broken ? [] : (product.properties ?? []),
  };
}
