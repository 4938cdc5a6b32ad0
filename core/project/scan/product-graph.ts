import type { Steps } from '#core/steps';
import { keyOf, type Placing, type ProductPlace, type ProductTree, placingsOf } from './tree';

/** A product with what it places: once, however often it is placed itself. */
export interface ProductNode {
  key: string;
  place: ProductPlace;
  placings: Placing[];
  /** What each of `placings` places. */
  below: ProductNode[];
  /** Places itself, by whatever way round: unfolding it ends where the circle closes. */
  isInCircle: boolean;
}

/** The products at and below some places, each once. */
export interface ProductGraph {
  tops: ProductNode[];
  /** Each after all that it places, but for circles. */
  nodes: ProductNode[];
}

/** Sums over every product and all that it places, each placing counted; a circle counts once. Linear in the placings as they are written. */
export function sumsBelow(
  { nodes }: ProductGraph,
  ownOf: (node: ProductNode) => number,
): ReadonlyMap<ProductNode, number> {
  const sums = new Map<ProductNode, number>();
  for (const node of nodes)
    sums.set(
      node,
      node.below.reduce((sum, inner) => sum + (sums.get(inner) ?? 0), ownOf(node)),
    );
  return sums;
}

/** How often each product is there below the tops, themselves once; a circle ends where it closes. Linear in the placings as they are written. */
export function timesBelow({ tops, nodes }: ProductGraph): ReadonlyMap<ProductNode, number> {
  const times = new Map<ProductNode, number>();
  const add = (node: ProductNode, count: number) => times.set(node, (times.get(node) ?? 0) + count);
  for (const top of tops) add(top, 1);
  for (const node of [...nodes].reverse()) {
    const count = times.get(node) ?? 0;
    for (const inner of node.below) add(inner, count);
  }
  return times;
}

/** Linear in the placings as they are written: what multiplies when it is unfolded is walked once. Any depth. */
export function* productGraphSteps(tree: ProductTree, tops: readonly ProductPlace[]): Steps<ProductGraph> {
  const known = new Map<string, ProductNode>();
  const nodes: ProductNode[] = [];
  const nodeOf = (place: ProductPlace): [node: ProductNode, isNew: boolean] => {
    const key = keyOf(place);
    const before = known.get(key);
    if (before) return [before, false];
    const placings = place.broken ? [] : placingsOf(tree, place);
    const node = { key, place, placings, below: [], isInCircle: false };
    known.set(key, node);
    return [node, true];
  };
  /** From a top to where the walk is. */
  const way: { node: ProductNode; next: number }[] = [];
  const depths = new Map<ProductNode, number>();
  const enter = (node: ProductNode) => {
    depths.set(node, way.length);
    way.push({ node, next: 0 });
  };
  const topNodes = [];
  let steps = 0;
  for (const top of tops) {
    const [topNode, isNew] = nodeOf(top);
    topNodes.push(topNode);
    if (isNew) enter(topNode);
    for (let at = way.at(-1); at; at = way.at(-1)) {
      if (++steps % 256 === 0) yield;
      const placing = at.node.placings[at.next++];
      if (!placing) {
        way.pop();
        depths.delete(at.node);
        nodes.push(at.node);
        continue;
      }
      const [node, isFirst] = nodeOf(placing.target);
      at.node.below.push(node);
      const depth = depths.get(node);
      if (isFirst) enter(node);
      else if (depth !== undefined) for (const { node: member } of way.slice(depth)) member.isInCircle = true;
    }
  }
  return { tops: topNodes, nodes };
}
