import type { Vector3 } from '#core/product/matrix';
import { across, add, cross, distance, dot, scale, subtract, unit } from '#core/product/vector';

/** Equal holes in a flat face, as a drawing gives their places. */
export interface HolePattern {
  count: number;
  /** Largest distance between two holes, or diameter of their circle, mm. */
  extent: number;
  /** `8 holes ⌀ 11 on ⌀ 180`, `4 holes ⌀ 9, 100 x 80`, `6 holes ⌀ 9 in 3 x 2, 50 and 40 apart`. */
  words: string;
}

/** More holes than these are a perforated plate, and no pattern that something is mounted by. */
const MOST = 200;

/**
 * The pattern that equal holes make: a circle, a rectangle, or rows and columns.
 * @param centres in one plane, mm
 * @param diameter of each, mm
 * @param tolerance how far places may be off, mm
 * @returns undefined for fewer than three holes, and for what is no pattern
 */
export function holePattern(
  centres: readonly Vector3[],
  diameter: number,
  normal: Vector3,
  tolerance: number,
): HolePattern | undefined {
  const count = centres.length;
  if (count < 3 || count > MOST) return undefined;
  const holes = `${count} holes ⌀ ${inMillimetres(diameter)}`;
  const grid = count >= 4 ? rowsAndColumns(centres, normal, tolerance) : undefined;
  const isSquare = grid && count === 4 && Math.abs(grid.apart[0] - grid.apart[1]) <= tolerance;
  if (grid && !isSquare) {
    const [a, b] = grid.apart;
    const extent = Math.hypot(a * (grid.counts[0] - 1), b * (grid.counts[1] - 1));
    const words =
      count === 4
        ? `${holes}, ${inMillimetres(a)} x ${inMillimetres(b)}`
        : `${holes} in ${grid.counts.join(' x ')}, ${inMillimetres(a)} and ${inMillimetres(b)} apart`;
    return { count, extent, words };
  }
  const middle = scale(
    centres.reduce<Vector3>((sum, centre) => add(sum, centre), [0, 0, 0]),
    1 / count,
  );
  const radii = centres.map((centre) => distance(centre, middle));
  const [least, most] = [Math.min(...radii), Math.max(...radii)];
  if (most - least > tolerance) return undefined;
  return { count, extent: least + most, words: `${holes} on ⌀ ${inMillimetres(least + most)}` };
}

/** Rows and columns that are filled without a gap, at least two of each; the longer way first. */
function rowsAndColumns(
  centres: readonly Vector3[],
  normal: Vector3,
  tolerance: number,
): { counts: [number, number]; apart: [number, number] } | undefined {
  const [first, ...others] = centres as [Vector3, ...Vector3[]];
  const nearest = others.reduce((best, other) =>
    distance(other, first) < distance(best, first) ? other : best,
  );
  const off = subtract(nearest, first);
  // Holes that lie in each other are no rows.
  const u = distance(nearest, first) > tolerance ? unit(off) : across(normal)[0];
  const lines = [u, cross(normal, u)].map((way) =>
    placesAlong(
      centres.map((centre) => dot(centre, way)),
      tolerance,
    ),
  );
  const [rows, columns] = lines as [number[], number[]];
  if (rows.length < 2 || columns.length < 2 || rows.length * columns.length !== centres.length)
    return undefined;
  const steps = [rows, columns].map((places) => {
    const apart = (places.at(-1)! - places[0]!) / (places.length - 1);
    const isEven = places.every((place, n) => Math.abs(place - places[0]! - n * apart) <= tolerance);
    return { count: places.length, apart, isEven };
  });
  if (!steps.every(({ isEven }) => isEven)) return undefined;
  const [a, b] = steps.sort((x, y) => y.count - x.count || y.apart - x.apart) as [
    (typeof steps)[0],
    (typeof steps)[0],
  ];
  return { counts: [a.count, b.count], apart: [a.apart, b.apart] };
}

/** Different places on a line, in order. */
function placesAlong(values: readonly number[], tolerance: number): number[] {
  const places: number[] = [];
  for (const value of [...values].sort((a, b) => a - b))
    if (places.length === 0 || value - places.at(-1)! > tolerance) places.push(value);
  return places;
}

/** A measure as a drawing writes it, to a hundredth. */
export function inMillimetres(value: number): string {
  return String(Number(value.toFixed(2)));
}
