import type { LinkState } from '#core/files/links/resolve';
import { type Appearance, appearanceOf } from '#core/product/appearance';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import type { ProjectLink } from './project';
import {
  keyOf,
  MOST_NODES,
  type Placing,
  type ProductPlace,
  type ProductTree,
  placingsOf,
  topProducts,
} from './tree';

/** A line of the structure table: a product below its parent, with all its placings there taken together or one by one. */
export interface StructureRow {
  /** Place in the table as a path of positions, such as `0.3.1`. */
  key: string;
  /** Index of the parent's row; -1 at the top. */
  parent: number;
  depth: number;
  name: string;
  product: string;
  file: string;
  /** PRODUCT_DEFINITION in `file`. */
  definition: number;
  /** Placings below one parent. */
  quantity: number;
  /** Placings in the whole structure. */
  total: number;
  /** Null where the component lives in its parent's file. */
  link: { state: LinkState; written: string; reason: string; holder: string } | null;
  bodies: number;
  children: number;
}

/** A body of a file as the stage draws it, once for all its placings. */
export interface StageBody extends Appearance {
  sha256: string;
  body: number;
}

/** One placing of one body. */
export interface StageInstance {
  row: number;
  body: number;
  /** In the root's coordinates, row-major, millimetres. */
  placement: Matrix4;
  /** Which of the row's placings, in the order of the file: its name. */
  name: string;
}

export interface StructureTable {
  rows: StructureRow[];
  bodies: StageBody[];
  instances: StageInstance[];
}

/**
 * The structure below a file as a table and as what the stage draws. Placings of the same product below the same
 * parent are one row when `grouped`. Cost grows with the occurrences of the unfolded structure.
 * @throws RangeError past MOST_NODES placings
 */
export function structureTable(tree: ProductTree, path: string, grouped: boolean): StructureTable {
  const table: StructureTable = { rows: [], bodies: [], instances: [] };
  const bodyNumbers = new Map<string, number>();
  let nodes = 0;

  const visit = (
    place: ProductPlace,
    names: string[],
    placements: Matrix4[],
    perParent: number,
    parent: number,
    position: number,
    link: ProjectLink | undefined,
    above: readonly string[],
  ): void => {
    nodes += placements.length;
    if (nodes > MOST_NODES)
      throw new RangeError(`${path} unfolds into more than ${MOST_NODES.toLocaleString('en')} occurrences`);
    const row = table.rows.length;
    const { product } = place;
    const parentRow = table.rows[parent];
    const key = keyOf(place);
    const placings = place.broken || above.includes(key) ? [] : placingsOf(tree, place);
    const groups = groupPlacings(placings, grouped);
    table.rows.push({
      key: parentRow ? `${parentRow.key}.${position}` : String(position),
      parent,
      depth: parentRow ? parentRow.depth + 1 : 0,
      name: grouped || perParent > 1 ? product.name : names[0] || product.name,
      product: product.id,
      file: place.broken ? place.broken.written : place.path,
      definition: product.definition,
      quantity: perParent,
      total: placements.length,
      link: link
        ? { state: link.state, written: link.written, reason: link.reason, holder: link.holder }
        : null,
      bodies: product.bodies.length,
      children: groups.length,
    });
    if (!place.broken) addBodies(place, row, names, placements);
    groups.forEach((group, n) => {
      const [first] = group;
      const below = placements.flatMap((outer) => group.map(({ placement }) => multiply(outer, placement)));
      const childNames = placements.flatMap((_, at) =>
        group.map(({ name, target }) => join(names[at], name || target.product.name, placements.length > 1)),
      );
      visit(first!.target, childNames, below, group.length, row, n, first!.link, [...above, key]);
    });
  };

  const addBodies = (
    { path: file, product }: ProductPlace,
    row: number,
    names: string[],
    placements: Matrix4[],
  ) => {
    const sha256 = tree.files.get(file)!.sha256;
    for (const body of product.bodies) {
      const bodyKey = `${sha256} ${body.id}`;
      let number = bodyNumbers.get(bodyKey);
      if (number === undefined) {
        number = table.bodies.push({ sha256, body: body.id, ...appearanceOf(body) }) - 1;
        bodyNumbers.set(bodyKey, number);
      }
      placements.forEach((placement, n) =>
        table.instances.push({
          row,
          body: number,
          placement: body.placement ? multiply(placement, body.placement) : placement,
          name: names[n]!,
        }),
      );
    }
  };

  topProducts(tree, path).forEach((top, n) =>
    visit(top, [top.product.name], [IDENTITY], 1, -1, n, undefined, []),
  );
  return table;
}

function groupPlacings(placings: readonly Placing[], grouped: boolean): Placing[][] {
  if (!grouped) return placings.map((placing) => [placing]);
  const groups = new Map<string, Placing[]>();
  for (const placing of placings) {
    const key = `${keyOf(placing.target)} ${placing.link?.written ?? ''}`;
    const group = groups.get(key);
    if (group) group.push(placing);
    else groups.set(key, [placing]);
  }
  return [...groups.values()];
}

function join(outer: string | undefined, name: string, named: boolean): string {
  return named && outer ? `${name} in ${outer}` : name;
}
