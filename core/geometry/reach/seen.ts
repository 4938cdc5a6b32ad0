import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { type SolidMesh, withUsedVertices } from '#core/geometry/shape/solid-mesh';
import type { Whole } from '#core/geometry/whole/whole';
import type { Progress } from '#core/planning';
import { type Box, diagonalOf, middleOf } from '#core/product/box';
import { type Matrix4, transformPoint, type Vector3 } from '#core/product/matrix';
import { across, dot } from '#core/product/vector';

/** Directions that are looked from, spread evenly over the sphere. */
const DIRECTIONS = 64;
/** Pixels across the largest side of a picture. */
const PIXELS = 256;

/** What is seen of a body from far away. */
export interface SeenBody {
  /** Part of all pixels of all pictures that show the whole; 0 for a body that nobody sees. */
  share: number;
  /** Towards the eye that sees most of it; null for one that nobody sees. */
  from: Vector3 | null;
}

/**
 * What lines of sight from all around come to, also through narrow openings: pictures of the whole from 64 directions, in which every pixel
 * knows its body. Deterministic. Cost grows with the triangles, and with the pixels of each picture.
 * @param wanted bodies of which it is enough to know whether they are seen: once all of them are, nobody looks any further
 */
export async function seenBodies(
  whole: Whole,
  progress: Progress = async () => {},
  wanted: readonly number[] | null = null,
): Promise<SeenBody[]> {
  const bodies = [...whole.bodies.keys()];
  const counts = new Float64Array(whole.bodies.length);
  const best = new Float64Array(whole.bodies.length);
  const shown = new Uint32Array(whole.bodies.length);
  const from = new Int16Array(whole.bodies.length).fill(-1);
  const directions = directionsAround(DIRECTIONS);
  let total = 0;
  const picture = new Int32Array(PIXELS * PIXELS);
  const depth = new Float32Array(PIXELS * PIXELS);
  for (const [n, direction] of directions.entries()) {
    await progress('Looking from all sides', n, directions.length);
    drawBodies(whole, bodies, direction, picture, depth);
    shown.fill(0);
    for (const body of picture) if (body >= 0) shown[body]!++;
    for (const [body, pixels] of shown.entries()) {
      counts[body]! += pixels;
      total += pixels;
      if (pixels <= best[body]!) continue;
      best[body] = pixels;
      from[body] = n;
    }
    if (wanted?.every((body) => best[body]! > 0)) break;
  }
  return whole.bodies.map((_, n) => ({
    share: total === 0 ? 0 : counts[n]! / total,
    from: from[n]! < 0 ? null : directions[from[n]!]!,
  }));
}

/** Directions on a spiral over the sphere, none along an axis. */
export function directionsAround(count: number): Vector3[] {
  const turn = Math.PI * (3 - Math.sqrt(5));
  return Array.from({ length: count }, (_, n) => {
    const z = 1 - (2 * n + 1) / count;
    const radius = Math.sqrt(1 - z * z);
    return [radius * Math.cos(turn * n), radius * Math.sin(turn * n), z];
  });
}

/** Draws the body in each pixel, seen along a direction; -1 where there is none. */
function drawBodies(
  whole: Whole,
  bodies: readonly number[],
  towardsEye: Vector3,
  picture: Int32Array,
  depth: Float32Array,
): void {
  const [right, up] = across(towardsEye);
  const size = diagonalOf(whole.box);
  const scale = PIXELS / size;
  const middle = middleOf(whole.box as Box);
  depth.fill(-Infinity);
  picture.fill(-1);
  const basis = [right, up, towardsEye] as const;
  const offset = [PIXELS / 2 - dot(middle, right) * scale, PIXELS / 2 - dot(middle, up) * scale, 0];
  for (const n of bodies) {
    const { shape, placement } = whole.bodies[n]!;
    const { mesh } = whole.shapes[shape]!;
    if (!mesh) continue;
    const level = mesh.levels.findLast(({ error }) => error * scale <= 0.5)!;
    const { positions, triangles } = compactOf(mesh, level);
    const points = projected(positions, placement, basis, scale, offset);
    for (let at = 0; at < triangles.length; at += 3)
      fill(picture, depth, points, 3 * triangles[at]!, 3 * triangles[at + 1]!, 3 * triangles[at + 2]!, n);
  }
}

/** Levels of meshes with only the vertices that they use, as long as the meshes are there. */
const compact = new WeakMap<object, SolidMesh>();

/** A coarse level uses few of a mesh's vertices. */
function compactOf({ positions }: GeometryOfBody, level: GeometryOfBody['levels'][number]): SolidMesh {
  const known = compact.get(level);
  if (known) return known;
  const made = withUsedVertices({ positions, triangles: level.triangles });
  compact.set(level, made);
  return made;
}

function projected(
  positions: ArrayLike<number>,
  placement: Matrix4,
  basis: readonly [Vector3, Vector3, Vector3],
  scale: number,
  offset: readonly number[],
): Float64Array {
  const origin = transformPoint(placement, [0, 0, 0]);
  const rows = basis.map((direction, row) => [
    ...[0, 1, 2].map(
      (column) =>
        scale *
        (direction[0] * placement[column]! +
          direction[1] * placement[4 + column]! +
          direction[2] * placement[8 + column]!),
    ),
    scale * dot(direction, origin) + offset[row]!,
  ]);
  const points = new Float64Array(positions.length);
  for (let at = 0; at < positions.length; at += 3) {
    const [x, y, z] = [positions[at]!, positions[at + 1]!, positions[at + 2]!];
    for (let row = 0; row < 3; row++) {
      const [a, b, c, d] = rows[row]! as [number, number, number, number];
      points[at + row] = a * x + b * y + c * z + d;
    }
  }
  return points;
}

/** Draws a triangle, by the middles of pixels, where nothing nearer is. */
function fill(
  picture: Int32Array,
  depth: Float32Array,
  points: Float64Array,
  a: number,
  b: number,
  c: number,
  body: number,
): void {
  const [ax, ay, az] = [points[a]!, points[a + 1]!, points[a + 2]!];
  const [bx, by, bz] = [points[b]!, points[b + 1]!, points[b + 2]!];
  const [cx, cy, cz] = [points[c]!, points[c + 1]!, points[c + 2]!];
  const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
  if (area === 0) return;
  const left = Math.max(0, Math.ceil(Math.min(ax, bx, cx) - 0.5));
  const last = Math.min(PIXELS - 1, Math.floor(Math.max(ax, bx, cx) - 0.5));
  const top = Math.max(0, Math.ceil(Math.min(ay, by, cy) - 0.5));
  const bottom = Math.min(PIXELS - 1, Math.floor(Math.max(ay, by, cy) - 0.5));
  const [ux, uy] = [(cy - ay) / area, -(cx - ax) / area];
  const [vx, vy] = [-(by - ay) / area, (bx - ax) / area];
  for (let y = top; y <= bottom; y++) {
    const py = y + 0.5 - ay;
    for (let x = left; x <= last; x++) {
      const px = x + 0.5 - ax;
      const u = px * ux + py * uy;
      const v = px * vx + py * vy;
      if (u < 0 || v < 0 || u + v > 1) continue;
      const z = az + u * (bz - az) + v * (cz - az);
      const pixel = y * PIXELS + x;
      if (z <= depth[pixel]!) continue;
      depth[pixel] = z;
      picture[pixel] = body;
    }
  }
}
