import { type Box, diagonalOf } from '#core/product/box';
import { type Matrix4, transformPoint, type Vector3 } from '#core/product/matrix';
import { Refusal } from '#core/refusal';
import { BitGrid } from './bit-grid';

/** A whole is looked at in cubes of at most this part of its diagonal; where less will do, in coarser ones. */
export const FINE = 600;
export const COARSE = 250;
/** Cubes of the largest grid: three of these take 600 MB. */
const MOST_CUBES = 1.6e9;
/** A ball is made of at least so many steps: with fewer, what is twice as wide might not be passed. */
const FEWEST_STEPS = 2;

/** A box of cubes over a whole, and the ball that is to pass. */
export interface ReachGrid {
  origin: Vector3;
  /** Side of a cube, mm. */
  side: number;
  /** How often walls are grown, each time by sides and by cubes, to keep the ball out. */
  steps: number;
  counts: [nx: number, ny: number, nz: number];
}

/**
 * The radius, in cubes, up to which every ball around a cube's centre is kept out by walls that are grown so many times. Growing reaches 2
 * cubes a step along an axis, and any two axes together 3; half a cube is lost by rounding, for which the free cubes beside a rim make up.
 */
export function radiusOfSteps(steps: number): number {
  return Math.sqrt(Math.min((3 / Math.SQRT2) * steps, 2 * steps + 0.5) ** 2 - 0.25);
}

/**
 * The grid for a gap: an opening that is narrower is never passed, one twice as wide always is.
 * @param gap mm
 * @param parts of the diagonal that a cube is at most
 * @throws Refusal for a gap that is too small to be told apart in a whole of this size
 */
export function gridFor(box: Box, gap: number, parts = FINE): ReachGrid {
  const diagonal = diagonalOf(box);
  let steps = FEWEST_STEPS;
  const sideOf = (count: number) => gap / (2 * radiusOfSteps(count));
  while (sideOf(steps) > diagonal / parts) steps++;
  const side = sideOf(steps);
  // Room around it for the ball to come by, and for the growing of walls.
  const margin = (3 * steps + 3) * side;
  const counts = [0, 1, 2].map((axis) =>
    Math.ceil((box[axis + 3]! - box[axis]! + 2 * margin) / side),
  ) as ReachGrid['counts'];
  if (counts[0] * counts[1] * counts[2] > MOST_CUBES) {
    const least = gap * Math.cbrt((counts[0] * counts[1] * counts[2]) / MOST_CUBES);
    throw new Refusal(
      `A gap of ${gap} mm is too small for a model of ${Math.round(diagonal)} mm: choose at least ${Number(least.toPrecision(2))} mm.`,
    );
  }
  return { origin: [box[0] - margin, box[1] - margin, box[2] - margin], side, steps, counts };
}

/** Marks every cube that a triangle touches, and now and then one beside it. */
export class SurfaceMarker {
  readonly grid: BitGrid;
  private readonly points = new Float64Array(9);

  constructor(private readonly frame: ReachGrid) {
    this.grid = new BitGrid(...frame.counts);
  }

  /** Marks the triangles of a mesh as it stands. */
  mark(positions: ArrayLike<number>, triangles: ArrayLike<number>, placement: Matrix4): void {
    const { origin, side } = this.frame;
    const moved = new Float64Array(positions.length);
    for (let at = 0; at < positions.length; at += 3) {
      const point = transformPoint(placement, [positions[at]!, positions[at + 1]!, positions[at + 2]!]);
      for (let axis = 0; axis < 3; axis++)
        moved[at + axis] = (point[axis as 0 | 1 | 2] - origin[axis as 0 | 1 | 2]) / side;
    }
    for (let n = 0; n < triangles.length; n += 3) {
      for (let corner = 0; corner < 3; corner++)
        for (let axis = 0; axis < 3; axis++)
          this.points[3 * corner + axis] = moved[3 * triangles[n + corner]! + axis]!;
      const [a, b, c] = [0, 3, 6].map((at) => this.points.slice(at, at + 3)) as [
        Float64Array,
        Float64Array,
        Float64Array,
      ];
      this.divide(a, b, c, 0);
    }
  }

  /** A triangle over many cubes is taken in quarters, so that few cubes beside it are looked at. */
  private divide(a: Float64Array, b: Float64Array, c: Float64Array, depth: number): void {
    const low = [0, 0, 0];
    const high = [0, 0, 0];
    let cubes = 1;
    for (let axis = 0; axis < 3; axis++) {
      low[axis] = Math.floor(Math.min(a[axis]!, b[axis]!, c[axis]!));
      high[axis] = Math.floor(Math.max(a[axis]!, b[axis]!, c[axis]!));
      cubes *= high[axis]! - low[axis]! + 1;
    }
    if (cubes > 27 && depth < 16) {
      const [ab, bc, ca] = [half(a, b), half(b, c), half(c, a)];
      this.divide(a, ab, ca, depth + 1);
      this.divide(ab, b, bc, depth + 1);
      this.divide(ca, bc, c, depth + 1);
      this.divide(ab, bc, ca, depth + 1);
      return;
    }
    // What the plane of the triangle does not cut is not touched.
    const [ux, uy, uz] = [b[0]! - a[0]!, b[1]! - a[1]!, b[2]! - a[2]!];
    const [vx, vy, vz] = [c[0]! - a[0]!, c[1]! - a[1]!, c[2]! - a[2]!];
    const [px, py, pz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const reach = (Math.abs(px) + Math.abs(py) + Math.abs(pz)) / 2;
    const at = px * a[0]! + py * a[1]! + pz * a[2]!;
    for (let z = low[2]!; z <= high[2]!; z++)
      for (let y = low[1]!; y <= high[1]!; y++)
        for (let x = low[0]!; x <= high[0]!; x++)
          if (Math.abs(px * (x + 0.5) + py * (y + 0.5) + pz * (z + 0.5) - at) <= reach * (1 + 1e-9) + 1e-12)
            this.grid.set(x, y, z);
  }
}

function half(a: Float64Array, b: Float64Array): Float64Array {
  return Float64Array.of((a[0]! + b[0]!) / 2, (a[1]! + b[1]!) / 2, (a[2]! + b[2]!) / 2);
}
