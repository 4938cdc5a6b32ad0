import type { Matrix4, Vector3 } from '#core/product/matrix';
import { cross, distance, length, unit } from '#core/product/vector';
import type { ShapeFeature, ShapeFeatures } from '../features';

/** A motion of space: rigid, or with a reflection. Row-major, mm. */
export interface Motion {
  matrix: Matrix4;
  mirrored: boolean;
}

/**
 * Finds the motion that takes one body onto another, or shows that there is none.
 *
 * A motion takes the centre of volume to the centre of volume, so three points that are not in line fix it: the
 * centre and two features. Of the first body the two features are chosen that have the fewest counterparts in the
 * second; each pair of counterparts with the right distances gives one motion (and one with a reflection), which is
 * then checked on every feature. Bodies whose features all lie on one line through the centre are bodies of
 * revolution, and any turn about that line will do. Symmetric bodies simply have several motions; the first is taken.
 *
 * @param tolerance how far a feature may be from its counterpart, mm
 * @param mirrored look for a reflection instead of a rigid motion
 */
export function findMotion(
  a: ShapeFeatures,
  b: ShapeFeatures,
  tolerance: number,
  mirrored = false,
): Motion | undefined {
  if (a.features.length !== b.features.length) return undefined;
  const from = centred(a);
  const to = centred(b);
  const anchors = chooseAnchors(from, to, tolerance);
  if (!anchors) return undefined;
  const grid = new FeatureGrid(to, tolerance);
  for (const rotation of rotations(anchors, to, tolerance, mirrored)) {
    if (!fits(from, rotation, grid, tolerance)) continue;
    const moved = rotate(rotation, a.centre);
    const shift = [0, 1, 2].map((n) => b.centre[n]! - moved[n]!);
    const [r0, r1, r2, r3, r4, r5, r6, r7, r8] = rotation;
    const matrix = [r0, r1, r2, shift[0], r3, r4, r5, shift[1], r6, r7, r8, shift[2], 0, 0, 0, 1] as number[];
    return { matrix: tidy(matrix), mirrored };
  }
  return undefined;
}

/** Nine numbers, row-major. */
type Rotation = readonly number[];

interface Centred {
  feature: ShapeFeature;
  at: Vector3;
  /** Distance from the centre. */
  reach: number;
}

function centred({ features, centre }: ShapeFeatures): Centred[] {
  return features.map((feature) => {
    const at = feature.at.map((value, n) => value - centre[n]!) as unknown as Vector3;
    return { feature, at, reach: Math.hypot(...at) };
  });
}

/** Whether two features can be the same, wherever they are. */
export function alike(a: ShapeFeature, b: ShapeFeature, tolerance: number): boolean {
  if (a.kind !== b.kind || Math.abs(a.radius - b.radius) > tolerance) return false;
  // The area of a face changes by the tolerance times its outline; four sides of a square stand for that.
  const slack = a.kind.startsWith('face')
    ? tolerance * 4 * Math.sqrt(Math.max(a.size, b.size)) + tolerance * tolerance
    : tolerance;
  return Math.abs(a.size - b.size) <= slack;
}

interface Anchors {
  first: Centred;
  /** Null for a body of revolution. */
  second: Centred | null;
}

/** Vertices are exact; centres of faces come from an integration. */
const TRUST = ['vertex', 'edge line', 'edge circle', 'axis of circle', 'axis of cylinder'];

function chooseAnchors(from: Centred[], to: Centred[], tolerance: number): Anchors | 'point' | undefined {
  const far = Math.max(0, ...from.map(({ reach }) => reach));
  if (far <= tolerance) return 'point';
  // Rarity by kind and distance from the centre: counting counterparts in order of distance.
  const sorted = [...to].sort((x, y) => x.reach - y.reach);
  const counts = from.map((entry) => counterparts(entry, sorted, tolerance).length);
  if (counts.includes(0)) return undefined;
  const cost = (n: number) => {
    const { feature, reach } = from[n]!;
    const trust = TRUST.indexOf(feature.kind);
    return counts[n]! * (trust < 0 ? 3 : 1) * (reach < far / 4 ? 4 : 1);
  };
  const order = from.map((_, n) => n).sort((x, y) => cost(x) - cost(y) || from[y]!.reach - from[x]!.reach);
  const first = from[order.find((n) => from[n]!.reach > far / 10)!]!;
  const second = order.find((n) => offLine(first.at, from[n]!.at) > Math.max(far / 20, 3 * tolerance));
  if (second !== undefined) return { first, second: from[second]! };
  const any = order.find((n) => offLine(first.at, from[n]!.at) > 3 * tolerance);
  return { first, second: any === undefined ? null : from[any]! };
}

function counterparts(entry: Centred, sorted: readonly Centred[], tolerance: number): Centred[] {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]!.reach < entry.reach - tolerance) low = middle + 1;
    else high = middle;
  }
  const found: Centred[] = [];
  for (; low < sorted.length && sorted[low]!.reach <= entry.reach + tolerance; low++)
    if (alike(entry.feature, sorted[low]!.feature, tolerance)) found.push(sorted[low]!);
  return found;
}

function* rotations(
  anchors: Anchors | 'point',
  to: Centred[],
  tolerance: number,
  mirrored: boolean,
): Generator<Rotation> {
  const flip = mirrored ? -1 : 1;
  // A body that was only pushed along, or mirrored and pushed, is told so rather than turned about a symmetry.
  yield [1, 0, 0, 0, flip, 0, 0, 0, 1];
  if (anchors === 'point') return;
  const { first, second } = anchors;
  const sorted = [...to].sort((x, y) => x.reach - y.reach);
  const firsts = counterparts(first, sorted, tolerance);
  if (second === null) {
    for (const other of firsts)
      yield between(frame(first.at, sideways(first.at)), frame(other.at, sideways(other.at)), flip);
    return;
  }
  const seconds = counterparts(second, sorted, tolerance);
  const apart = distance(first.at, second.at);
  for (const p of firsts) {
    for (const q of seconds) {
      if (Math.abs(distance(p.at, q.at) - apart) > 2 * tolerance) continue;
      yield between(frame(first.at, second.at), frame(p.at, q.at), flip);
    }
  }
}

/** Every feature has a counterpart of its own where the motion takes it. */
function fits(from: readonly Centred[], rotation: Rotation, grid: FeatureGrid, tolerance: number): boolean {
  grid.startOver();
  for (const { feature, at } of from) if (!grid.take(feature, rotate(rotation, at), tolerance)) return false;
  return true;
}

/** Features by place, in cubes of four tolerances. */
class FeatureGrid {
  private readonly cells = new Map<string, { entry: Centred; round: number }[]>();
  private readonly side: number;
  private round = 0;

  constructor(entries: readonly Centred[], tolerance: number) {
    this.side = 4 * tolerance;
    for (const entry of entries) {
      const key = this.key(entry.at[0], entry.at[1], entry.at[2]);
      const cell = this.cells.get(key);
      if (cell) cell.push({ entry, round: 0 });
      else this.cells.set(key, [{ entry, round: 0 }]);
    }
  }

  startOver(): void {
    this.round++;
  }

  /** Takes a feature like this one at this place out of the round. @returns whether there was one */
  take(feature: ShapeFeature, at: Vector3, tolerance: number): boolean {
    const seen = new Set<string>();
    for (let corner = 0; corner < 8; corner++) {
      const key = this.key(
        at[0] + (corner & 1 ? tolerance : -tolerance),
        at[1] + (corner & 2 ? tolerance : -tolerance),
        at[2] + (corner & 4 ? tolerance : -tolerance),
      );
      if (seen.has(key)) continue;
      seen.add(key);
      for (const place of this.cells.get(key) ?? []) {
        if (place.round === this.round || distance(place.entry.at, at) > tolerance) continue;
        if (!alike(feature, place.entry.feature, tolerance)) continue;
        place.round = this.round;
        return true;
      }
    }
    return false;
  }

  private key(x: number, y: number, z: number): string {
    const { side } = this;
    return `${Math.floor(x / side)} ${Math.floor(y / side)} ${Math.floor(z / side)}`;
  }
}

/** A right-handed orthonormal frame with x along p and q in the x-y plane; its axes one after the other. */
function frame(p: Vector3, q: Vector3): Vector3[] {
  const x = unit(p);
  const z = unit(cross(x, q));
  return [x, cross(z, x), z];
}

/** The rotation that takes one frame to another, its z axis reversed for a reflection. */
function between(from: Vector3[], to: Vector3[], flip: number): Rotation {
  const rotation: number[] = [];
  for (let row = 0; row < 3; row++)
    for (let column = 0; column < 3; column++)
      rotation.push(
        to[0]![row]! * from[0]![column]! +
          to[1]![row]! * from[1]![column]! +
          flip * to[2]![row]! * from[2]![column]!,
      );
  return rotation;
}

function rotate(r: Rotation, [x, y, z]: Vector3): Vector3 {
  return [
    r[0]! * x + r[1]! * y + r[2]! * z,
    r[3]! * x + r[4]! * y + r[5]! * z,
    r[6]! * x + r[7]! * y + r[8]! * z,
  ];
}

function sideways([x, y, z]: Vector3): Vector3 {
  return Math.abs(x) <= Math.abs(y) && Math.abs(x) <= Math.abs(z)
    ? [1, 0, 0]
    : Math.abs(y) <= Math.abs(z)
      ? [0, 1, 0]
      : [0, 0, 1];
}

function offLine(along: Vector3, point: Vector3): number {
  return length(cross(unit(along), point));
}

/** Rounding noise of the integration is not written into placements: whole numbers are kept whole. */
function tidy(matrix: number[]): Matrix4 {
  return matrix.map((value) => {
    const whole = Math.round(value * 1e6) / 1e6;
    return Math.abs(value - whole) < 2e-9 * Math.max(1, Math.abs(value)) ? whole + 0 : value;
  });
}
