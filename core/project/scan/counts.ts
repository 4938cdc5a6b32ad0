import { atOnce, type Steps } from '#core/steps';
import {
  type ProductGraph,
  type ProductNode,
  productGraphSteps,
  sumsBelow,
  timesBelow,
} from './product-graph';
import { type ProductTree, topProducts } from './tree';

/** Leaf parts below some roots. */
export interface LeafCounts {
  /** Every placing. */
  occurrences: number;
  distinctParts: number;
}

/** Counts leaf parts below the roots. Each product is walked once; a circle ends where it closes. */
export function countLeaves(tree: ProductTree, roots: readonly string[]): LeafCounts {
  return leavesOf(atOnce(graphBelow(tree, roots)));
}

/** Counts leaf parts of a graph. */
export function leavesOf(graph: ProductGraph): LeafCounts {
  const { tops, nodes } = graph;
  const assemblies = tops.filter(({ place }) => place.product.occurrences.length > 0);
  const parts = new Set(tops.filter((top) => !assemblies.includes(top)));
  const counts = sumsBelow(graph, (node) => Number(isPart(node)));
  return {
    occurrences: assemblies.reduce((sum, top) => sum + counts.get(top)!, 0),
    distinctParts: nodes.filter((node) => isPart(node) && !parts.has(node)).length,
  };
}

/** What places nothing. A file whose only product is empty holds no part. */
function isPart({ place, placings }: ProductNode): boolean {
  return placings.length === 0 && (!place.product.isEmpty || place.broken !== undefined);
}

/**
 * How often each file is placed below the roots, itself included: the parts that many see. Each product is walked once; a circle ends
 * where it closes.
 */
export function countPlacings(tree: ProductTree, roots: readonly string[]): Map<string, number> {
  const files = new Map<string, number>();
  for (const [{ place }, count] of timesBelow(atOnce(graphBelow(tree, roots))))
    if (!place.broken) files.set(place.path, Math.max(files.get(place.path) ?? 0, count));
  return files;
}

function graphBelow(tree: ProductTree, roots: readonly string[]): Steps<ProductGraph> {
  return productGraphSteps(
    tree,
    roots.flatMap((root) => topProducts(tree, root)),
  );
}
