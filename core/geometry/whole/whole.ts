import pLimit from 'p-limit';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import { type Box, diagonalOf, emptyBox, growBox } from '#core/product/box';
import { IDENTITY, type Matrix4, multiply, transformPoint } from '#core/product/matrix';
import type { Body, Product } from '#core/product/structure';
import { hasStructure } from '#core/project/formats/endings';
import {
  type ProductGraph,
  type ProductNode,
  productGraphSteps,
  sumsBelow,
} from '#core/project/scan/product-graph';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { type ProductPlace, topProducts } from '#core/project/scan/tree';
import { Refusal } from '#core/refusal';
import { atOnce, type Steps } from '#core/steps';

/** More placings than any model that is made lighter here; structures that multiply without end stop here. */
export const MOST_OCCURRENCES = 50_000;
/** So many files are meshed at once, where there are kernels for them. */
const FILES_AT_ONCE = 3;
/** And so many placings of assemblies and parts together are walked. */
const MOST_PLACINGS = 10 * MOST_OCCURRENCES;

/** A body of a file, once for all its placings. */
export interface WholeShape {
  file: string;
  sha256: string;
  product: Product;
  body: Body;
  /** Undefined where the kernel could make nothing of it. */
  mesh: GeometryOfBody | undefined;
}

/** One placing of a part in the whole. */
export interface WholeOccurrence {
  /** Names from the top down, a number behind those that siblings share: it stays the same as long as the structure does. */
  key: string;
  name: string;
  place: ProductPlace;
  placement: Matrix4;
  /** Positions in `bodies`. */
  bodies: number[];
}

/** One placing of one body. */
export interface WholeBody {
  occurrence: number;
  shape: number;
  /** In the coordinates of the whole, mm. */
  placement: Matrix4;
}

/** An assembly, or a part, with everything that it places, as it stands. */
export interface Whole {
  /** Path of the file at the top. */
  root: string;
  top: Product;
  occurrences: WholeOccurrence[];
  bodies: WholeBody[];
  shapes: WholeShape[];
  /** Links to components that are not there. */
  missing: ProjectLink[];
  /** Smallest and largest x, y, z over all bodies with a mesh, mm. */
  box: Box;
}

/**
 * Everything that a file places, with the meshes of its bodies. Cost grows with the occurrences and with the meshes of the different
 * bodies.
 * @throws Refusal for a file without bodies anywhere below it, and past MOST_OCCURRENCES
 */
export async function readWhole(
  context: Pick<PlanContext, 'project' | 'draft' | 'meshes'>,
  root: string,
): Promise<Whole> {
  const { project, draft } = context;
  const whole = wholeStructure(project, root);
  draft.restOn(root);
  for (const { file } of whole.shapes) draft.restOn(file);
  return withMeshes(whole, ({ file }) => context.meshes(file));
}

/** A whole with the meshes of its bodies, which are asked for once a file. */
export async function withMeshes(
  whole: Whole,
  meshesOf: (shape: WholeShape) => Promise<ReadonlyMap<number, GeometryOfBody>>,
): Promise<Whole> {
  const limit = pLimit(FILES_AT_ONCE);
  await limit.map(groupBy(whole.shapes, ({ file }) => file).values(), async (shapes) => {
    const meshes = await meshesOf(shapes[0]!);
    for (const shape of shapes) shape.mesh = meshes.get(shape.body.id);
  });
  whole.box = boxOfBodies(whole, whole.bodies.keys());
  return whole;
}

/** The same without meshes. */
export function wholeStructure(project: Project, root: string): Whole {
  return atOnce(wholeStructureSteps(project, root));
}

/** The same in steps. */
export function* wholeStructureSteps(project: Project, root: string): Steps<Whole> {
  const file = project.files.get(root);
  if (!file) throw new Refusal(`There is no file ${root}.`);
  if (file.scan.error !== null) throw new Refusal(`${root} cannot be read. ${file.scan.error}`);
  if (!hasStructure(root))
    throw new Refusal(`${root} is no STEP file: a model is made of parts and assemblies.`);
  const tops = topProducts(project, root);
  const [first] = tops;
  if (!first) throw new Refusal(`${root} holds neither parts nor assemblies.`);
  const whole: Whole = {
    root,
    top: first.product,
    occurrences: [],
    bodies: [],
    shapes: [],
    missing: [],
    box: emptyBox(),
  };
  const graph = yield* productGraphSteps(project, tops);
  const walk = new Walk(project, whole, graph);
  const waiting = graph.tops.map((node) => ({
    node,
    key: tops.length > 1 ? node.place.product.name : '',
    name: node.place.product.name,
    placement: IDENTITY,
    above: [] as readonly ProductNode[],
  }));
  waiting.reverse();
  let steps = 0;
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    if (++steps % 128 === 0) yield;
    waiting.push(...walk.visit(next).reverse());
  }
  whole.missing = [...walk.missing];
  if (whole.bodies.length === 0)
    throw new Refusal(
      whole.missing.length > 0
        ? `${root} has no bodies: none of the files that it places is there. Repair its links first.`
        : `${root} has no bodies.`,
    );
  return whole;
}

/** A product where it is placed, on the walk through a whole. */
interface Visited {
  node: ProductNode;
  key: string;
  name: string;
  placement: Matrix4;
  /** Products of circles that it is below of. */
  above: readonly ProductNode[];
}

/** Fills a whole with what is placed, in the order of the files. */
class Walk {
  readonly missing = new Set<ProjectLink>();
  private readonly shapeOf = new Map<string, number>();
  /** How much there is at and below each product, bodies or files that are missing: where there is nothing nobody has to go. */
  private readonly fruits: ReadonlyMap<ProductNode, number>;
  private placings = 0;

  constructor(
    private readonly project: Project,
    private readonly whole: Whole,
    graph: ProductGraph,
  ) {
    // What leads into a circle is walked: where it closes is found on the way.
    this.fruits = sumsBelow(graph, ({ place, isInCircle }) =>
      Number(isInCircle || place.broken !== undefined || place.product.bodies.length > 0),
    );
  }

  /** @returns what it places */
  visit({ node, key, name, placement, above }: Visited): Visited[] {
    const { place } = node;
    if (place.broken) {
      this.missing.add(place.broken);
      return [];
    }
    if (this.fruits.get(node) === 0 || (node.isInCircle && above.includes(node))) return [];
    if (place.product.bodies.length > 0) this.add(place, key, name, placement);
    const ways = node.isInCircle ? [...above, node] : above;
    const names = new Map<string, number>();
    this.placings += node.placings.length;
    if (this.placings > MOST_PLACINGS) throw this.tooMany();
    return node.placings.map((placing, n) => {
      const called = placing.name || placing.target.product.name;
      const times = (names.get(called) ?? 0) + 1;
      names.set(called, times);
      const step = times === 1 ? called : `${called} (${times})`;
      return {
        node: node.below[n]!,
        key: key === '' ? step : `${key} / ${step}`,
        name: called,
        placement: multiply(placement, placing.placement),
        above: ways,
      };
    });
  }

  private add(place: ProductPlace, key: string, name: string, placement: Matrix4): void {
    const { whole } = this;
    if (whole.occurrences.length >= MOST_OCCURRENCES) throw this.tooMany();
    const bodies: number[] = [];
    const occurrence = whole.occurrences.push({ key, name, place, placement, bodies }) - 1;
    for (const body of place.product.bodies) {
      const shapeKey = `${place.path} ${place.product.definition} ${body.id} ${body.placement?.join(' ') ?? ''}`;
      let shape = this.shapeOf.get(shapeKey);
      if (shape === undefined) {
        const { sha256 } = this.project.files.get(place.path)!;
        shape =
          whole.shapes.push({ file: place.path, sha256, product: place.product, body, mesh: undefined }) - 1;
        this.shapeOf.set(shapeKey, shape);
      }
      const where = body.placement ? multiply(placement, body.placement) : placement;
      bodies.push(whole.bodies.push({ occurrence, shape, placement: where }) - 1);
    }
  }

  private tooMany(): Refusal {
    return new Refusal(
      `${this.whole.root} places more than ${MOST_OCCURRENCES.toLocaleString('en')} components. Take one of its sub-assemblies.`,
    );
  }
}

/** The box around some bodies, as they stand; from the vertices of their meshes. */
export function boxOfBodies(whole: Whole, bodies: Iterable<number>): Box {
  const box = emptyBox();
  for (const n of bodies) growByMesh(box, positionsOf(whole, n), whole.bodies[n]!.placement);
  return box;
}

/** For a body whose mesh is turned by quarter turns only its box is enough. */
function positionsOf(whole: Whole, n: number): ArrayLike<number> {
  const { shape, placement } = whole.bodies[n]!;
  const { mesh } = whole.shapes[shape]!;
  if (!mesh) return [];
  const isStraight = [0, 1, 2, 4, 5, 6, 8, 9, 10].every((at) => {
    const value = Math.abs(placement[at]!);
    return value < 1e-12 || Math.abs(value - 1) < 1e-12;
  });
  if (!isStraight) return mesh.positions;
  return mesh.box;
}

/** Grows a box by points that stand somewhere. */
export function growByMesh(box: Box, positions: ArrayLike<number>, placement: Matrix4): void {
  for (let at = 0; at < positions.length; at += 3)
    growBox(box, transformPoint(placement, [positions[at]!, positions[at + 1]!, positions[at + 2]!]));
}

/** Length of the diagonal of an occurrence's own box, mm; 0 where nothing is known of its shape. */
export function sizeOfOccurrence(whole: Whole, n: number): number {
  return diagonalOf(boxOfBodies(whole, whole.occurrences[n]!.bodies));
}

export function meshOfBody({ bodies, shapes }: Whole, n: number): GeometryOfBody | undefined {
  return shapes[bodies[n]!.shape]!.mesh;
}
