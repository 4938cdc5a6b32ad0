import { stemOf } from '#core/files/links/paths';
import { isBroken } from '#core/files/links/resolve';
import { IDENTITY, type Matrix4 } from '#core/product/matrix';
import type { Product } from '#core/product/structure';
import { productsByDefinition, topProductsOf } from './content';
import type { ProjectLink, ScannedFile } from './project';

/** What the walk through the product structure needs of a project. */
export interface ProductTree {
  files: ReadonlyMap<string, ScannedFile>;
  uses: ReadonlyMap<string, readonly ProjectLink[]>;
}

/** A product in a file; for an unresolved link the holder's own placeholder. */
export interface ProductPlace {
  path: string;
  product: Product;
  /** Set when the product only stands for a file that was not found. */
  broken?: ProjectLink;
}

/** One placing of a product, seen from its parent. */
export interface Placing {
  name: string;
  placement: Matrix4;
  target: ProductPlace;
  /** The occurrence's number in the parent's file. */
  occurrence: number;
  link?: ProjectLink;
}

/** The products that a file is about: what stands at the top of its own structure. */
export function topProducts(tree: ProductTree, path: string): ProductPlace[] {
  const file = tree.files.get(path);
  return file ? topProductsOf(file.scan).map((product) => ({ path, product })) : [];
}

/** The placings directly below a product, with links followed into other files. */
export function placingsOf(tree: ProductTree, { path, product }: ProductPlace): Placing[] {
  const file = tree.files.get(path);
  if (!file || product.occurrences.length === 0) return [];
  const byDefinition = productsByDefinition(file.scan);
  const placeholders = new Set(file.scan.placeholders);
  const links = tree.uses.get(path) ?? [];
  return product.occurrences.flatMap(({ id, name, child, placement }) => {
    const placed = byDefinition.get(child);
    if (!placed) return [];
    const link = placeholders.has(child)
      ? links.find(({ kind, definitions }) => kind === 'component' && definitions.includes(child))
      : undefined;
    if (!link) return [{ name, placement, occurrence: id, target: { path, product: placed } }];
    const target =
      !isBroken(link.state) && link.to !== null ? linkedProduct(tree, link.to, placed) : undefined;
    return [
      { name, placement, occurrence: id, link, target: target ?? { path, product: placed, broken: link } },
    ];
  });
}

/** Which product of the linked file is meant: the one with the placeholder's id or name, else the first with a shape. */
export function linkedProduct(
  tree: ProductTree,
  path: string,
  placeholder: Product,
): ProductPlace | undefined {
  const tops = topProducts(tree, path);
  const wanted =
    tops.find(({ product }) => product.id !== '' && product.id === placeholder.id) ??
    tops.find(({ product }) => product.name === placeholder.name);
  const meant = wanted ?? tops.find(({ product }) => !product.isEmpty) ?? tops[0];
  if (meant) return meant;
  const file = tree.files.get(path);
  if (!file) return undefined;
  return { path, product: { definition: 0, id: '', name: stemOf(path), bodies: [], occurrences: [] } };
}

/** Counts leaf parts below the roots: every placing, and how many different ones. Each product is walked once. */
export function countLeaves(
  tree: ProductTree,
  roots: readonly string[],
): { occurrences: number; distinctParts: number } {
  const counts = new Map<string, number>();
  const leaves = new Set<string>();
  const walking = new Set<string>();
  const count = (place: ProductPlace): number => {
    const key = keyOf(place);
    const known = counts.get(key);
    if (known !== undefined) return known;
    if (walking.has(key)) return 0;
    const placings = place.broken ? [] : placingsOf(tree, place);
    if (placings.length === 0) {
      // A file whose only product is empty holds no part.
      if (place.product.isEmpty && !place.broken) {
        counts.set(key, 0);
        return 0;
      }
      leaves.add(key);
      counts.set(key, 1);
      return 1;
    }
    walking.add(key);
    let sum = 0;
    for (const { target } of placings) sum += count(target);
    walking.delete(key);
    counts.set(key, sum);
    return sum;
  };
  let occurrences = 0;
  for (const root of roots)
    for (const top of topProducts(tree, root))
      if (top.product.occurrences.length > 0) occurrences += count(top);
  return { occurrences, distinctParts: leaves.size };
}

/**
 * How often each file is placed below the roots, itself included: the parts that many see. Each product is walked once; a loop ends where
 * it closes.
 */
export function countPlacings(tree: ProductTree, roots: readonly string[]): Map<string, number> {
  const places = new Map<string, ProductPlace>();
  const inner = new Map<string, string[]>();
  /** Parents after their children. */
  const finished: string[] = [];
  const visit = (place: ProductPlace): string => {
    const key = keyOf(place);
    if (places.has(key)) return key;
    places.set(key, place);
    const placings = place.broken ? [] : placingsOf(tree, place);
    inner.set(
      key,
      placings.map(({ target }) => visit(target)),
    );
    finished.push(key);
    return key;
  };
  const times = new Map<string, number>();
  const add = (key: string, count: number) => times.set(key, (times.get(key) ?? 0) + count);
  for (const root of roots) for (const top of topProducts(tree, root)) add(visit(top), 1);
  const files = new Map<string, number>();
  for (const key of finished.reverse()) {
    const count = times.get(key) ?? 0;
    const { path, broken } = places.get(key)!;
    if (!broken) files.set(path, Math.max(files.get(path) ?? 0, count));
    for (const child of inner.get(key)!) add(child, count);
  }
  return files;
}

/** Names a product across files; stable for the same bytes. */
export function keyOf({ path, product }: ProductPlace): string {
  return `${path}#${product.definition}`;
}

/** The structure below a file as nested data, for `tree --json`. */
export interface TreeNode {
  name: string;
  file: string;
  product: string;
  /** Relative to the parent, row-major, millimetres. */
  placement: Matrix4;
  children: TreeNode[];
}

/** More nodes than any screen or program needs; structures that multiply without end stop here. */
export const MOST_NODES = 200_000;

/** @throws RangeError when the structure has more than MOST_NODES nodes */
export function treeOf(tree: ProductTree, path: string): TreeNode[] {
  let nodes = 0;
  const build = (
    name: string,
    placement: Matrix4,
    place: ProductPlace,
    above: readonly string[],
  ): TreeNode => {
    if (++nodes > MOST_NODES)
      throw new RangeError(`${path} unfolds into more than ${MOST_NODES.toLocaleString('en')} occurrences`);
    const key = keyOf(place);
    const children = place.broken || above.includes(key) ? [] : placingsOf(tree, place);
    return {
      name,
      file: place.broken ? place.broken.written : place.path,
      product: place.product.id || place.product.name,
      placement,
      children: children.map((child) =>
        build(child.name || child.target.product.name, child.placement, child.target, [...above, key]),
      ),
    };
  };
  return topProducts(tree, path).map((top) => build(top.product.name, IDENTITY, top, []));
}
