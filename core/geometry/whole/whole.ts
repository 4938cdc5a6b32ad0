import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import { type Box, diagonalOf, emptyBox, growBox } from '#core/product/box';
import { IDENTITY, type Matrix4, multiply, transformPoint } from '#core/product/matrix';
import type { Body, Product } from '#core/product/structure';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { keyOf, type ProductPlace, placingsOf, topProducts } from '#core/project/scan/tree';
import { Refusal } from '#core/refusal';

/** More placings than any model that is made lighter here; structures that multiply without end stop here. */
export const MOST_OCCURRENCES = 50_000;

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
  for (const shapes of groupBy(whole.shapes, ({ file }) => file).values()) {
    const meshes = await meshesOf(shapes[0]!);
    for (const shape of shapes) shape.mesh = meshes.get(shape.body.id);
  }
  whole.box = boxOfBodies(whole, whole.bodies.keys());
  return whole;
}

/** The same without meshes. */
export function wholeStructure(project: Project, root: string): Whole {
  if (!project.files.has(root)) throw new Refusal(`There is no file ${root}.`);
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
  const shapeOf = new Map<string, number>();
  const missing = new Set<ProjectLink>();
  const visit = (
    place: ProductPlace,
    key: string,
    name: string,
    placement: Matrix4,
    above: readonly string[],
  ): void => {
    const own = keyOf(place);
    if (place.broken) {
      missing.add(place.broken);
      return;
    }
    if (above.includes(own)) return;
    if (place.product.bodies.length > 0) {
      const bodies: number[] = [];
      if (whole.occurrences.length >= MOST_OCCURRENCES)
        throw new Refusal(
          `${root} places more than ${MOST_OCCURRENCES.toLocaleString('en')} components. Take one of its sub-assemblies.`,
        );
      const occurrence = whole.occurrences.push({ key, name, place, placement, bodies }) - 1;
      for (const body of place.product.bodies) {
        const shapeKey = `${place.path} ${place.product.definition} ${body.id} ${body.placement?.join(' ') ?? ''}`;
        let shape = shapeOf.get(shapeKey);
        if (shape === undefined) {
          const { sha256 } = project.files.get(place.path)!;
          shape =
            whole.shapes.push({ file: place.path, sha256, product: place.product, body, mesh: undefined }) -
            1;
          shapeOf.set(shapeKey, shape);
        }
        const where = body.placement ? multiply(placement, body.placement) : placement;
        bodies.push(whole.bodies.push({ occurrence, shape, placement: where }) - 1);
      }
    }
    const names = new Map<string, number>();
    for (const placing of placingsOf(project, place)) {
      const called = placing.name || placing.target.product.name;
      const times = (names.get(called) ?? 0) + 1;
      names.set(called, times);
      const step = times === 1 ? called : `${called} (${times})`;
      visit(
        placing.target,
        key === '' ? step : `${key} / ${step}`,
        called,
        multiply(placement, placing.placement),
        [...above, own],
      );
    }
  };
  for (const top of tops) visit(top, tops.length > 1 ? top.product.name : '', top.product.name, IDENTITY, []);
  whole.missing = [...missing];
  if (whole.bodies.length === 0)
    throw new Refusal(
      missing.size > 0
        ? `${root} has no bodies: none of the files that it places is there. Repair its links first.`
        : `${root} has no bodies.`,
    );
  return whole;
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

function growByMesh(box: Box, positions: ArrayLike<number>, placement: Matrix4): void {
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
