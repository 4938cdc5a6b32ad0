import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import type { Whole } from '#core/geometry/whole/whole';
import type { Progress } from '#core/planning';
import type { Box } from '#core/product/box';
import { type Matrix4, transformPoint, type Vector3 } from '#core/product/matrix';
import { cross, distance, scale, subtract, unit } from '#core/product/vector';
import { type BitGrid, floodFromRim } from './bit-grid';
import { gridFor, type ReachGrid, SurfaceMarker } from './grid';

/** Points of a face that are tried at least. */
const SAMPLES = 8;
/** A mesh stands in for a finer one where it is off by no more than this part of a cube. */
const OFF = 0.1;
/** Steps of half a cube from a face to a cube without surface: its own takes up two at most, and with more one comes through walls. */
const MOST_STEPS = 5;

/** Which faces of a whole a ball from outside comes to. */
export interface Reached {
  /** mm: an opening that is narrower is never passed, one twice as wide always is. */
  gap: number;
  /** By body of the whole: 1 for each face that is reached, in the order of its mesh; empty for a body without a mesh. */
  faces: Uint8Array<ArrayBuffer>[];
}

/** A mesh where it stands. */
export interface StandingMesh {
  mesh: Pick<GeometryOfBody, 'positions' | 'faceGroups' | 'levels'>;
  placement: Matrix4;
}

/** What a ball rolled over a model leaves: where surfaces are, and what it comes to. */
export class ReachField {
  private constructor(
    private readonly frame: ReachGrid,
    private readonly surface: BitGrid,
    private readonly outside: BitGrid,
  ) {}

  /**
   * Rolls a ball around a model and into all its openings, in a grid of cubes: exact where openings are twice the gap, never too generous
   * where they are narrower. Deterministic. Cost grows with the triangles, and with the cube of diagonal / gap.
   */
  static async roll(
    meshes: readonly StandingMesh[],
    box: Box,
    gap: number,
    progress: Progress = async () => {},
    parts?: number,
  ): Promise<ReachField> {
    const frame = gridFor(box, gap, parts);
    const marker = new SurfaceMarker(frame);
    for (const [done, { mesh, placement }] of meshes.entries()) {
      if (done % 16 === 0) await progress(DOING, done, 2 * meshes.length);
      const level = mesh.levels.findLast(({ error }) => error <= OFF * frame.side)!;
      marker.mark(mesh.positions, level.triangles, placement);
    }
    const outside = await outsideOf(marker.grid, frame, progress, meshes.length);
    return new ReachField(frame, marker.grid, outside);
  }

  /** For each face of a mesh, in its order: 1 where the ball comes to it. */
  facesReached({ mesh, placement }: StandingMesh): Uint8Array<ArrayBuffer> {
    return facesReached(mesh, placement, this.frame, this.surface, this.outside);
  }

  /** Whether the ball comes to a place on a surface. @param normal out of the body */
  isReached(point: Vector3, normal: Vector3): boolean {
    const { origin, side } = this.frame;
    const at = scale(subtract(point, origin), 1 / side);
    return comesOutside(at, normal, this.surface, this.outside);
  }

  /** Whether some place of the ball covers a point, or a surface lies in its cube. */
  isOutside(point: Vector3): boolean {
    const { origin, side } = this.frame;
    const cube = point.map((value, axis) => Math.floor((value - origin[axis]!) / side)) as [
      number,
      number,
      number,
    ];
    return this.outside.has(...cube) || this.surface.has(...cube);
  }
}

const DOING = 'Looking at what can be touched from outside';

/** The meshes of a whole where they stand; null for a body without one. */
export function standingMeshes(whole: Whole): (StandingMesh | null)[] {
  return whole.bodies.map(({ shape, placement }) => {
    const { mesh } = whole.shapes[shape]!;
    return mesh ? { mesh, placement } : null;
  });
}

/** Which faces of a whole a ball of the gap's size comes to. */
export async function reachedFaces(
  whole: Whole,
  gap: number,
  progress: Progress = async () => {},
): Promise<Reached> {
  const standing = standingMeshes(whole);
  const meshes = standing.filter((mesh) => mesh !== null);
  const field = await ReachField.roll(meshes, whole.box, gap, progress);
  const faces: Reached['faces'] = [];
  for (const [n, one] of standing.entries()) {
    if (n % 64 === 0) await progress(DOING, meshes.length + n, 2 * meshes.length);
    faces.push(one ? field.facesReached(one) : new Uint8Array(0));
  }
  return { gap, faces };
}

/** The cubes that some place of the ball covers, when it comes from far away. */
async function outsideOf(
  surface: BitGrid,
  { steps }: ReachGrid,
  progress: Progress,
  count: number,
): Promise<BitGrid> {
  const walls = surface.copy();
  const grow = async (grid: BitGrid) => {
    for (let n = 0; n < steps; n++) {
      grid.growBySides();
      grid.growByCubes();
      await progress(DOING, count, 2 * count);
    }
  };
  await grow(walls);
  const flood = floodFromRim(walls);
  await grow(flood);
  return flood;
}

function facesReached(
  mesh: StandingMesh['mesh'],
  placement: Matrix4,
  { origin, side }: ReachGrid,
  surface: BitGrid,
  outside: BitGrid,
): Uint8Array<ArrayBuffer> {
  const { positions, faceGroups } = mesh;
  const { triangles } = mesh.levels[0]!;
  const count = faceGroups.length / 2;
  const reached = new Uint8Array(count);
  const corner = (index: number): Vector3 => {
    const at = 3 * triangles[index]!;
    const moved = transformPoint(placement, [positions[at]!, positions[at + 1]!, positions[at + 2]!]);
    return [(moved[0] - origin[0]) / side, (moved[1] - origin[1]) / side, (moved[2] - origin[2]) / side];
  };
  for (let face = 0; face < count; face++) {
    const [from, length] = [faceGroups[2 * face]!, faceGroups[2 * face + 1]!];
    const triangleCount = length / 3;
    // A large face of few triangles is tried at several places of each.
    const perTriangle = Math.ceil(SAMPLES / triangleCount);
    const step = Math.max(1, Math.floor(triangleCount / (4 * SAMPLES)));
    for (let n = 0; n < triangleCount && !reached[face]; n += step) {
      const [a, b, c] = [corner(from + 3 * n), corner(from + 3 * n + 1), corner(from + 3 * n + 2)];
      const normal = unit(cross(subtract(b, a), subtract(c, a)));
      if (normal[0] === 0 && normal[1] === 0 && normal[2] === 0) continue;
      for (const [u, v] of placesIn(Math.max(perTriangle, placesFor(a, b, c)))) {
        const w = 1 - u - v;
        const point: Vector3 = [
          u * a[0] + v * b[0] + w * c[0],
          u * a[1] + v * b[1] + w * c[1],
          u * a[2] + v * b[2] + w * c[2],
        ];
        if (!comesOutside(point, normal, surface, outside)) continue;
        reached[face] = 1;
        break;
      }
    }
  }
  return reached;
}

/** The first cube without surface in front of a point decides: a looser reading would see through walls. */
function comesOutside(point: Vector3, normal: Vector3, surface: BitGrid, outside: BitGrid): boolean {
  for (let step = 1; step <= MOST_STEPS; step++) {
    const x = Math.floor(point[0] + (normal[0] * step) / 2);
    const y = Math.floor(point[1] + (normal[1] * step) / 2);
    const z = Math.floor(point[2] + (normal[2] * step) / 2);
    if (x < 0 || y < 0 || z < 0 || x >= surface.nx || y >= surface.ny || z >= surface.nz) return true;
    if (!surface.has(x, y, z)) return outside.has(x, y, z);
  }
  return false;
}

/** Cubes from one place to the next on a long triangle, and rows of places at most. */
const [APART, MOST_ROWS] = [6, 12];

/** How many places of a triangle are tried: of a shaft that stands out of a housing by one end its triangles are as long as the shaft. */
function placesFor(a: Vector3, b: Vector3, c: Vector3): number {
  const longest = Math.max(distance(a, b), distance(b, c), distance(c, a));
  const rows = Math.min(MOST_ROWS, Math.ceil(longest / APART));
  return rows <= 1 ? 1 : (rows * rows) / 2;
}

const PLACES = new Map<number, [number, number][]>();

/** Places in a triangle as parts of its corners, spread evenly; the middle first. */
function placesIn(count: number): [number, number][] {
  let places = PLACES.get(count);
  if (!places) {
    places = [[1 / 3, 1 / 3]];
    const rows = Math.ceil(Math.sqrt(2 * count));
    for (let i = 0; i < rows && count > 1; i++)
      for (let k = 0; k < rows - i; k++) places.push([(i + 1 / 3) / rows, (k + 1 / 3) / rows]);
    PLACES.set(count, places);
  }
  return places;
}
