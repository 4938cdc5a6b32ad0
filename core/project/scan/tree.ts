import { stemOf } from '#core/files/links/paths';
import { isBroken } from '#core/files/links/resolve';
import { onceFor } from '#core/once';
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
  const linkOf = componentLinks(tree.uses.get(path) ?? NO_LINKS);
  return product.occurrences.flatMap(({ id, name, child, placement }) => {
    const placed = byDefinition.get(child);
    if (!placed) return [];
    const link = placeholders.has(child) ? linkOf.get(child) : undefined;
    if (!link) return [{ name, placement, occurrence: id, target: { path, product: placed } }];
    const target =
      !isBroken(link.state) && link.to !== null ? linkedProduct(tree, link.to, placed) : undefined;
    return [
      { name, placement, occurrence: id, link, target: target ?? { path, product: placed, broken: link } },
    ];
  });
}

const NO_LINKS: readonly ProjectLink[] = [];
/** The links of a file by the stand-ins that they are for; of several the first. */
const componentLinks = onceFor((links: readonly ProjectLink[]): ReadonlyMap<number, ProjectLink> => {
  const made = new Map<number, ProjectLink>();
  for (const link of links)
    if (link.kind === 'component')
      for (const definition of link.definitions) if (!made.has(definition)) made.set(definition, link);
  return made;
});

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
