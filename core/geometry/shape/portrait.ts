import type { Matrix4, Vector3 } from '#core/product/matrix';
import { cross, dot, unit } from '#core/product/vector';
import type { GeometryOfBody } from './gltf';

/** A body with all its placings, as a portrait shows it. */
export interface PortraitBody {
  /** The whole mesh, and coarser ones. */
  geometry: GeometryOfBody;
  /** Red, green, blue, each 0 to 255. */
  colour: readonly [number, number, number];
  placements: readonly Matrix4[];
}

/** The stage's corner view: from the front, a little from the right and from above. */
const TOWARDS_EYE = unit([0.82, -1, 0.55]);
const LIGHT = unit([0.35, -0.55, 0.95]);
/** Each pixel is the mean of so many squared. */
const FINER = 2;
/** Part of the picture that stays free around the model. */
const MARGIN = 0.04;
/** Light that falls everywhere, and what the lamp adds. */
const [AMBIENT, LAMP] = [0.5, 0.6];

/**
 * Draws bodies seen from the corner, without perspective, as large as fits: rows of red, green, blue and opacity, from the top. Where
 * nothing is, it is clear. Cost grows with the triangles; each body is drawn with the coarsest mesh that is not off by a pixel.
 */
export function drawPortrait(
  bodies: readonly PortraitBody[],
  { width, height }: { width: number; height: number },
): Uint8Array {
  const [wide, high] = [width * FINER, height * FINER];
  const right = unit(cross([0, 0, 1], TOWARDS_EYE));
  const up = cross(TOWARDS_EYE, right);
  const basis = [right, up, TOWARDS_EYE] as const;
  const views = bodies.flatMap((body) =>
    body.placements.map((placement) => ({ body, seen: seenAs(placement, basis) })),
  );
  const reach = { left: Infinity, right: -Infinity, below: Infinity, above: -Infinity };
  for (const { body, seen } of views)
    for (const corner of cornersOf(body.geometry.box)) {
      const [x, y] = at(seen, corner);
      reach.left = Math.min(reach.left, x);
      reach.right = Math.max(reach.right, x);
      reach.below = Math.min(reach.below, y);
      reach.above = Math.max(reach.above, y);
    }
  const scale =
    (1 - 2 * MARGIN) *
    Math.min(
      wide / Math.max(reach.right - reach.left, 1e-9),
      high / Math.max(reach.above - reach.below, 1e-9),
    );
  const middle = [(reach.left + reach.right) / 2, (reach.below + reach.above) / 2] as const;
  const picture = new Canvas(wide, high);
  for (const { body, seen } of views) {
    const { positions, levels } = body.geometry;
    const level = levels.findLast(({ error }) => error * scale <= 1) ?? levels[0]!;
    const points = new Float64Array(positions.length);
    for (let n = 0; n < positions.length; n += 3) {
      const [x, y, z] = at(seen, [positions[n]!, positions[n + 1]!, positions[n + 2]!]);
      points[n] = wide / 2 + (x - middle[0]) * scale;
      points[n + 1] = high / 2 - (y - middle[1]) * scale;
      points[n + 2] = z * scale;
    }
    const { triangles } = level;
    for (let n = 0; n < triangles.length; n += 3)
      picture.fill(
        points,
        3 * triangles[n]!,
        3 * triangles[n + 1]!,
        3 * triangles[n + 2]!,
        body.colour,
        basis,
      );
  }
  return picture.halved();
}

/** Pixels with a depth each. */
class Canvas {
  private readonly depth: Float32Array;
  private readonly colours: Uint8Array;

  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {
    this.depth = new Float32Array(width * height).fill(-Infinity);
    this.colours = new Uint8Array(4 * width * height);
  }

  /** Fills a triangle where nothing nearer is. Offsets into the points: x and y in pixels, z towards the eye. */
  fill(
    points: Float64Array,
    a: number,
    b: number,
    c: number,
    colour: Vector3,
    basis: readonly [Vector3, Vector3, Vector3],
  ): void {
    const [ax, ay, az] = [points[a]!, points[a + 1]!, points[a + 2]!];
    const [bx, by, bz] = [points[b]!, points[b + 1]!, points[b + 2]!];
    const [cx, cy, cz] = [points[c]!, points[c + 1]!, points[c + 2]!];
    const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
    if (Math.abs(area) < 1e-9) return;
    const light = this.lightOn([bx - ax, ay - by, bz - az], [cx - ax, ay - cy, cz - az], basis);
    const [left, right] = [
      Math.max(0, Math.floor(Math.min(ax, bx, cx))),
      Math.min(this.width - 1, Math.ceil(Math.max(ax, bx, cx))),
    ];
    const [top, bottom] = [
      Math.max(0, Math.floor(Math.min(ay, by, cy))),
      Math.min(this.height - 1, Math.ceil(Math.max(ay, by, cy))),
    ];
    for (let y = top; y <= bottom; y++)
      for (let x = left; x <= right; x++) {
        const [px, py] = [x + 0.5, y + 0.5];
        const u = ((px - ax) * (cy - ay) - (cx - ax) * (py - ay)) / area;
        const v = ((bx - ax) * (py - ay) - (px - ax) * (by - ay)) / area;
        if (u < 0 || v < 0 || u + v > 1) continue;
        const z = az + u * (bz - az) + v * (cz - az);
        const pixel = y * this.width + x;
        if (z <= this.depth[pixel]!) continue;
        this.depth[pixel] = z;
        for (let n = 0; n < 3; n++) this.colours[4 * pixel + n] = Math.min(255, colour[n]! * light);
        this.colours[4 * pixel + 3] = 255;
      }
  }

  /** How bright a face is, whichever way round it is written. Sides in the picture's own directions. */
  private lightOn(one: Vector3, other: Vector3, basis: readonly [Vector3, Vector3, Vector3]): number {
    const normal = unit(cross(one, other));
    const facing = normal[2] < 0 ? -1 : 1;
    const lamp = basis.map((direction) => dot(direction, LIGHT)) as unknown as Vector3;
    return AMBIENT + LAMP * Math.max(0, facing * dot(normal, lamp));
  }

  /** The picture at its own size. */
  halved(): Uint8Array {
    const [width, height] = [this.width / FINER, this.height / FINER];
    const result = new Uint8Array(4 * width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const sum = [0, 0, 0, 0];
        for (let n = 0; n < FINER * FINER; n++) {
          const from = 4 * ((y * FINER + Math.floor(n / FINER)) * this.width + x * FINER + (n % FINER));
          const opacity = this.colours[from + 3]!;
          for (let k = 0; k < 3; k++) sum[k]! += (this.colours[from + k]! * opacity) / 255;
          sum[3]! += opacity;
        }
        const to = 4 * (y * width + x);
        for (let k = 0; k < 3; k++) result[to + k] = sum[3] ? (255 * sum[k]!) / sum[3]! : 0;
        result[to + 3] = sum[3]! / (FINER * FINER);
      }
    return result;
  }
}

/** A placement followed by the view: three rows of four. */
function seenAs(m: Matrix4, basis: readonly [Vector3, Vector3, Vector3]): number[] {
  return basis.flatMap((direction) =>
    [0, 1, 2, 3].map(
      (column) => direction[0] * m[column]! + direction[1] * m[4 + column]! + direction[2] * m[8 + column]!,
    ),
  );
}

function at(seen: readonly number[], [x, y, z]: Vector3): Vector3 {
  return [0, 4, 8].map(
    (row) => seen[row]! * x + seen[row + 1]! * y + seen[row + 2]! * z + seen[row + 3]!,
  ) as unknown as Vector3;
}

function cornersOf(box: readonly number[]): Vector3[] {
  return Array.from(
    { length: 8 },
    (_, n) => [box[n & 1 ? 3 : 0]!, box[n & 2 ? 4 : 1]!, box[n & 4 ? 5 : 2]!] as const,
  );
}
