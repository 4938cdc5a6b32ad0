/** One level of detail of a body: the whole mesh first, then coarser ones. */
export interface DetailLevel {
  triangles: number;
  /** How far it may lie off the whole mesh, mm. */
  error: number;
}

/** What is decided over: a body with all its placings that are shown. */
export interface DetailedBody {
  readonly levels: readonly DetailLevel[];
  /** x, y, z and radius of the sphere around each placing, mm. */
  readonly spheres: Float32Array;
  /** Answer: which level each placing is drawn with; NOT_DRAWN for none. */
  readonly decided: Int8Array;
  /** Answer: 1 where the edges are drawn, too. */
  readonly withEdges: Uint8Array;
}

/** The eye, as far as it matters for what can be seen. */
export interface Sight {
  at: readonly [number, number, number];
  /** Pixels that one millimetre takes at a distance of one millimetre. */
  pixels: number;
  /** Planes around what is in the picture, four numbers each: the normal, pointing inwards, and the distance. */
  planes: Float32Array;
}

export interface DetailBudget {
  /** Triangles of one frame. */
  triangles: number;
  /** How far a picture may be off, pixels. */
  tolerance: number;
}

export interface Decision {
  triangles: number;
  /** Whether everything is drawn as finely as was wished: else the frame was short of triangles. */
  isFine: boolean;
}

export const NOT_DRAWN = -1;
/** Edges of what is smaller would be a blot, pixels across. */
const LEAST_WITH_EDGES = 24;
/** By so much the tolerance grows until the frame fits its budget. */
const COARSER = 1.6;
const MOST_ROUNDS = 14;

/** Room for the scale of each placing, by body. */
const scales = new WeakMap<DetailedBody, Float32Array>();

/**
 * Decides once for a frame how finely each placing is drawn: none that is outside of the picture or smaller than the tolerance, every
 * other one with its coarsest level that is not off by more than that. When all of it is more than the budget has room for, the
 * tolerance grows. Cost grows with the placings.
 */
export function decideDetail(
  bodies: readonly DetailedBody[],
  sight: Sight,
  { triangles: most, tolerance: wished }: DetailBudget,
): Decision {
  for (const body of bodies) measure(body, sight);
  let tolerance = wished;
  let triangles = take(bodies, tolerance);
  for (let round = 0; triangles > most && round < MOST_ROUNDS; round++) {
    tolerance *= COARSER;
    triangles = take(bodies, tolerance);
  }
  return { triangles, isFine: tolerance === wished };
}

/** Pixels for a millimetre at each placing; 0 outside of the picture. */
function measure(body: DetailedBody, { at: [x, y, z], pixels, planes }: Sight): void {
  const { spheres } = body;
  const count = body.decided.length;
  let scale = scales.get(body);
  if (!scale || scale.length < count) {
    scale = new Float32Array(count);
    scales.set(body, scale);
  }
  for (let n = 0; n < count; n++) {
    const [cx, cy, cz, radius] = [
      spheres[4 * n]!,
      spheres[4 * n + 1]!,
      spheres[4 * n + 2]!,
      spheres[4 * n + 3]!,
    ];
    let isInside = true;
    for (let p = 0; isInside && p < planes.length; p += 4)
      isInside = planes[p]! * cx + planes[p + 1]! * cy + planes[p + 2]! * cz + planes[p + 3]! > -radius;
    const distance = Math.hypot(cx - x, cy - y, cz - z) - radius;
    // From within it is as near as can be.
    scale[n] = isInside ? pixels / Math.max(distance, radius / 100, 1e-3) : 0;
  }
}

/** @returns how many triangles that makes */
function take(bodies: readonly DetailedBody[], tolerance: number): number {
  let triangles = 0;
  for (const body of bodies) {
    const { levels, spheres, decided, withEdges } = body;
    const scale = scales.get(body)!;
    for (let n = 0; n < decided.length; n++) {
      const across = 2 * spheres[4 * n + 3]! * scale[n]!;
      withEdges[n] = 0;
      if (across <= tolerance) {
        decided[n] = NOT_DRAWN;
        continue;
      }
      let level = levels.length - 1;
      while (level > 0 && levels[level]!.error * scale[n]! > tolerance) level--;
      decided[n] = level;
      triangles += levels[level]!.triangles;
      if (across > LEAST_WITH_EDGES * tolerance) withEdges[n] = 1;
    }
  }
  return triangles;
}
