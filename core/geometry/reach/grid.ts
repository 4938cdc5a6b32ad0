import { type Box, diagonalOf } from '#core/product/box';
import { type Matrix4, transformPoint, type Vector3 } from '#core/product/matrix';
import { Refusal } from '#core/refusal';
import { BitGrid } from './bit-grid';

/** A whole is looked at in cubes of at most this part of its diagonal, two steps to the usual gap; where less will do, in coarser ones. */
export const FINE = 420;
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

/** How often a triangle is quartered at most. */
const MOST_QUARTERINGS = 16;

/** Marks every cube that a triangle touches, and now and then one beside it. */
export class SurfaceMarker {
  readonly grid: BitGrid;
  /** Triangles that wait to be marked, nine numbers each; a quartering takes one and adds four. */
  private readonly waiting = new Float64Array(9 * (3 * MOST_QUARTERINGS + 1));
  private readonly quarterings = new Uint8Array(3 * MOST_QUARTERINGS + 1);

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
      for (let corner = 0; corner < 3; corner++) {
        const at = 3 * triangles[n + corner]!;
        for (let axis = 0; axis < 3; axis++) this.waiting[3 * corner + axis] = moved[at + axis]!;
      }
      this.quarterings[0] = 0;
      this.markWaiting();
    }
  }

  /** A triangle over many cubes is taken in quarters, so that few cubes beside it are looked at. Nothing is allocated: this is most of the work. */
  private markWaiting(): void {
    const { waiting, quarterings } = this;
    for (let count = 1; count > 0; ) {
      count--;
      const at = 9 * count;
      const ax = waiting[at]!;
      const ay = waiting[at + 1]!;
      const az = waiting[at + 2]!;
      const bx = waiting[at + 3]!;
      const by = waiting[at + 4]!;
      const bz = waiting[at + 5]!;
      const cx = waiting[at + 6]!;
      const cy = waiting[at + 7]!;
      const cz = waiting[at + 8]!;
      const lowX = Math.floor(Math.min(ax, bx, cx));
      const lowY = Math.floor(Math.min(ay, by, cy));
      const lowZ = Math.floor(Math.min(az, bz, cz));
      const highX = Math.floor(Math.max(ax, bx, cx));
      const highY = Math.floor(Math.max(ay, by, cy));
      const highZ = Math.floor(Math.max(az, bz, cz));
      const cubes = (highX - lowX + 1) * (highY - lowY + 1) * (highZ - lowZ + 1);
      const depth = quarterings[count]!;
      if (cubes > 27 && depth < MOST_QUARTERINGS) {
        // A corner of it and two middles of its sides each; then the three middles.
        for (let axis = 0; axis < 3; axis++) {
          const a = waiting[at + axis]!;
          const b = waiting[at + 3 + axis]!;
          const c = waiting[at + 6 + axis]!;
          const ab = (a + b) / 2;
          const bc = (b + c) / 2;
          const ca = (c + a) / 2;
          waiting[at + 3 + axis] = ab;
          waiting[at + 6 + axis] = ca;
          waiting[at + 9 + axis] = ab;
          waiting[at + 12 + axis] = b;
          waiting[at + 15 + axis] = bc;
          waiting[at + 18 + axis] = ca;
          waiting[at + 21 + axis] = bc;
          waiting[at + 24 + axis] = c;
          waiting[at + 27 + axis] = ab;
          waiting[at + 30 + axis] = bc;
          waiting[at + 33 + axis] = ca;
        }
        quarterings.fill(depth + 1, count, count + 4);
        count += 4;
        continue;
      }
      // What the plane of the triangle does not cut is not touched.
      const px = (by - ay) * (cz - az) - (bz - az) * (cy - ay);
      const py = (bz - az) * (cx - ax) - (bx - ax) * (cz - az);
      const pz = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      const most = ((Math.abs(px) + Math.abs(py) + Math.abs(pz)) / 2) * (1 + 1e-9) + 1e-12;
      const middle = px * ax + py * ay + pz * az - (px + py + pz) / 2;
      for (let z = lowZ; z <= highZ; z++)
        for (let y = lowY; y <= highY; y++)
          for (let x = lowX; x <= highX; x++)
            if (Math.abs(px * x + py * y + pz * z - middle) <= most) this.grid.set(x, y, z);
    }
  }
}
