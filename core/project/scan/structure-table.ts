import type { LinkState } from '#core/files/links/resolve';
import { type Appearance, appearanceOf } from '#core/product/appearance';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import { atOnce, type Steps } from '#core/steps';
import { type ProductGraph, type ProductNode, productGraphSteps, sumsBelow } from './product-graph';
import { MOST_NODES, type Placing, type ProductTree, topProducts } from './tree';

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
  /** Rows directly below, listed or not. */
  children: number;
  /** What is below is not listed: `unfold` lists it. */
  isFolded: boolean;
}

/** A body of a file as the stage draws it, once for all its placings. */
export interface StageBody extends Appearance {
  sha256: string;
  body: number;
}

/** One placing of one body. */
export interface StageInstance {
  /** Where it belongs; with all that is below it, to a row that is folded. */
  row: number;
  body: number;
  /** In the root's coordinates, row-major, millimetres. */
  placement: Matrix4;
  /** Which of the row's placings, in the order of the file: its name. */
  name: string;
}

export interface StructureTable {
  rows: StructureRow[];
  /** What each row is, in the order of the rows. */
  nodes: ProductNode[];
  /** The placings that each row stands for, in the order of the rows; none at the top. */
  placings: (readonly Placing[])[];
  graph: ProductGraph;
  bodies: StageBody[];
  instances: StageInstance[];
  /** Placings of bodies that are not among `instances`, since there are more than one wants. */
  undrawn: number;
}

/** How much of a structure is unfolded. */
export interface UnfoldingLimits {
  /** So many rows are listed, the upper levels first, and as many below each row of `unfold`. */
  rows: number;
  /** So many placings of bodies are listed. */
  instances: number;
  /** Keys of rows whose inside is listed however many there are. */
  unfold?: readonly string[];
}

/** Placings of one product below one parent that are one row. */
interface Group {
  node: ProductNode;
  placings: Placing[];
}

/** A row on its way into the table. */
interface Line {
  node: ProductNode;
  parent: Line | null;
  /** The placings that it stands for; none at the top. */
  placings: readonly Placing[];
  /** In the whole structure. */
  total: number;
  /** Null while it is folded. */
  lines: Line[] | null;
}

const EVERYTHING: UnfoldingLimits = { rows: MOST_NODES, instances: MOST_NODES };
/** So many placings of assemblies are walked for each that may be listed. */
const MOST_ON_THE_WAY = 20;
/** So many steps between rests. */
const RESTS = 256;

/**
 * The structure below a file as a table and as what the stage draws. Placings of the same product below the same
 * parent are one row when `grouped`. Cost grows with the lines as they are written and with what is listed; what multiplies beyond the
 * limits is counted, not walked.
 * @example structureTable(project, 'unit.stp', true).rows[0] // the unit itself
 */
export function structureTable(
  tree: ProductTree,
  path: string,
  grouped: boolean,
  limits: UnfoldingLimits = EVERYTHING,
): StructureTable {
  return atOnce(structureSteps(tree, path, grouped, limits));
}

/** The same, in steps. */
export function* structureSteps(
  tree: ProductTree,
  path: string,
  grouped: boolean,
  limits: UnfoldingLimits,
): Steps<StructureTable> {
  const graph = yield* productGraphSteps(tree, topProducts(tree, path));
  const tops = graph.tops.map((node): Line => ({ node, parent: null, placings: [], total: 1, lines: null }));
  const unfolding = new Unfolding(grouped, limits);
  yield* unfolding.list(tops, tops.length);
  for (const key of limits.unfold ?? []) {
    const line = lineAt(tops, key);
    if (line && line.lines === null) yield* unfolding.list([line], 0);
  }
  yield* unfolding.write(tops);
  const counts = sumsBelow(graph, ({ place }) => (place.broken ? 0 : place.product.bodies.length));
  const drawing = new Drawing(tree, unfolding, counts, limits.instances);
  const isWhole = yield* drawing.draw(tops);
  const { rows, nodes, placings } = unfolding;
  const { bodies, instances } = drawing;
  const all = graph.tops.reduce((sum, top) => sum + counts.get(top)!, 0);
  return { rows, nodes, placings, graph, bodies, instances, undrawn: isWhole ? 0 : all - instances.length };
}

/** The rows of a structure, as far as they are listed. */
class Unfolding {
  readonly rows: StructureRow[] = [];
  readonly nodes: ProductNode[] = [];
  readonly placings: (readonly Placing[])[] = [];
  readonly numbers = new Map<Line, number>();
  private readonly groups = new Map<ProductNode, Group[]>();

  constructor(
    private readonly grouped: boolean,
    private readonly limits: UnfoldingLimits,
  ) {}

  groupsOf(node: ProductNode): Group[] {
    const known = this.groups.get(node);
    if (known) return known;
    const made = groupPlacings(node, this.grouped);
    this.groups.set(node, made);
    return made;
  }

  /** Lists what is below some lines, the upper levels first, as far as there is room; of what is met first, all. */
  *list(from: readonly Line[], already: number): Steps<void> {
    const waiting = [...from];
    let listed = already;
    for (let n = 0; n < waiting.length; n++) {
      if (n % RESTS === 0) yield;
      const line = waiting[n]!;
      const groups = closesCircle(line) ? [] : this.groupsOf(line.node);
      const fits = listed + groups.length <= this.limits.rows || listed === already;
      if (!fits) continue;
      line.lines = groups.map(({ node, placings }) => ({
        node,
        parent: line,
        placings,
        total: line.total * placings.length,
        lines: null,
      }));
      listed += groups.length;
      for (const inner of line.lines) waiting.push(inner);
    }
  }

  /** Writes the rows of what is listed, parents before what is below them. */
  *write(tops: readonly Line[]): Steps<void> {
    const waiting = tops.map((line, n) => ({ line, key: String(n), depth: 0 })).reverse();
    for (let next = waiting.pop(); next; next = waiting.pop()) {
      const { line, key, depth } = next;
      this.numbers.set(line, this.rows.length);
      this.rows.push(this.rowOf(line, key, depth));
      this.nodes.push(line.node);
      this.placings.push(line.placings);
      if (this.rows.length % RESTS === 0) yield;
      const lines = line.lines ?? [];
      for (let n = lines.length - 1; n >= 0; n--)
        waiting.push({ line: lines[n]!, key: `${key}.${n}`, depth: depth + 1 });
    }
  }

  private rowOf(line: Line, key: string, depth: number): StructureRow {
    const { node, parent, placings, total, lines } = line;
    const { place } = node;
    const { product, path, broken } = place;
    const link = placings[0]?.link;
    return {
      key,
      parent: parent ? this.numbers.get(parent)! : -1,
      depth,
      name: (!this.grouped && placings[0]?.name) || product.name,
      product: product.id,
      file: broken ? broken.written : path,
      definition: product.definition,
      quantity: Math.max(1, placings.length),
      total,
      link: link
        ? { state: link.state, written: link.written, reason: link.reason, holder: link.holder }
        : null,
      bodies: product.bodies.length,
      children: lines ? lines.length : this.groupsOf(node).length,
      isFolded: lines === null,
    };
  }
}

/** Placings of a product on the stage. */
interface Placed {
  node: ProductNode;
  /** Null below a row that is folded. */
  line: Line | null;
  row: number;
  placements: Matrix4[];
  names: string[];
  /** What it is below of, so far as circles close there. */
  above: readonly ProductNode[];
}

/** The bodies of a structure with their placings, row by row. */
class Drawing {
  readonly bodies: StageBody[] = [];
  readonly instances: StageInstance[] = [];
  private readonly numbers = new Map<string, number>();
  /** Placings were left out. */
  private isCut = false;
  private steps = 0;

  constructor(
    private readonly tree: ProductTree,
    private readonly unfolding: Unfolding,
    private readonly counts: ReadonlyMap<ProductNode, number>,
    private readonly most: number,
  ) {}

  /** @returns whether all placings of bodies are among `instances` */
  *draw(tops: readonly Line[]): Steps<boolean> {
    const waiting = tops
      .map((line): Placed => {
        const { node } = line;
        const names = [node.place.product.name];
        return {
          node,
          line,
          row: this.unfolding.numbers.get(line)!,
          placements: [IDENTITY],
          names,
          above: [],
        };
      })
      .reverse();
    let placed = 0;
    for (let next = waiting.pop(); next; next = waiting.pop()) {
      if (this.counts.get(next.node) === 0) continue;
      if (this.instances.length >= this.most || placed > MOST_ON_THE_WAY * this.most) return false;
      yield* this.add(next);
      const inner = yield* this.below(next);
      for (let n = inner.length - 1; n >= 0; n--) waiting.push(inner[n]!);
      placed += next.placements.length;
    }
    return !this.isCut;
  }

  /** The placings one level below: of each so many as bring as many bodies as may still be listed. */
  private *below({ node, line, row, placements, names, above }: Placed): Steps<Placed[]> {
    if (node.isInCircle && above.includes(node)) return [];
    const room = this.most - this.instances.length;
    const ways = node.isInCircle ? [...above, node] : above;
    const found: Placed[] = [];
    for (const [n, group] of this.unfolding.groupsOf(node).entries()) {
      const inner = line?.lines?.[n] ?? null;
      const placed: Placed = {
        node: group.node,
        line: inner,
        row: inner ? this.unfolding.numbers.get(inner)! : row,
        placements: [],
        names: [],
        above: ways,
      };
      found.push(placed);
      const all = placements.length * group.placings.length;
      const count = Math.min(all, Math.ceil(room / Math.max(1, this.counts.get(group.node)!)));
      if (count < all) this.isCut = true;
      const isNamed = placements.length > 1 || inner === null;
      for (let k = 0; k < count; k++) {
        if (this.steps++ % RESTS === 0) yield;
        const at = Math.floor(k / group.placings.length);
        const { name, placement } = group.placings[k % group.placings.length]!;
        placed.placements.push(multiply(placements[at]!, placement));
        placed.names.push(join(names[at], name || group.node.place.product.name, isNamed));
      }
    }
    return found;
  }

  private *add({ node, row, placements, names }: Placed): Steps<void> {
    const { path, product, broken } = node.place;
    if (broken) return;
    const { sha256 } = this.tree.files.get(path)!;
    for (const body of product.bodies) {
      const key = `${sha256} ${body.id}`;
      let number = this.numbers.get(key);
      if (number === undefined) {
        number = this.bodies.push({ sha256, body: body.id, ...appearanceOf(body) }) - 1;
        this.numbers.set(key, number);
      }
      for (const [n, placement] of placements.entries()) {
        if (this.steps++ % RESTS === 0) yield;
        if (this.instances.length >= this.most) {
          this.isCut = true;
          return;
        }
        this.instances.push({
          row,
          body: number,
          placement: body.placement ? multiply(placement, body.placement) : placement,
          name: names[n]!,
        });
      }
    }
  }
}

function closesCircle({ node, parent }: Line): boolean {
  if (!node.isInCircle) return false;
  for (let above = parent; above; above = above.parent) if (above.node === node) return true;
  return false;
}

function lineAt(tops: readonly Line[], key: string): Line | undefined {
  const [first, ...positions] = key.split('.').map(Number);
  let line = tops[first ?? -1];
  for (const position of positions) line = line?.lines?.[position];
  return line;
}

function groupPlacings({ placings, below }: ProductNode, grouped: boolean): Group[] {
  if (!grouped) return placings.map((placing, n) => ({ node: below[n]!, placings: [placing] }));
  const groups = new Map<string, Group>();
  for (const [n, placing] of placings.entries()) {
    const node = below[n]!;
    const key = `${node.key} ${placing.link?.written ?? ''}`;
    const group = groups.get(key);
    if (group) group.placings.push(placing);
    else groups.set(key, { node, placings: [placing] });
  }
  return [...groups.values()];
}

function join(outer: string | undefined, name: string, named: boolean): string {
  return named && outer ? `${name} in ${outer}` : name;
}
