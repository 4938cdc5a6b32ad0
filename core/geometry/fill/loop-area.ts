import type { Vector3 } from '#core/product/matrix';
import { add, cross } from '#core/product/vector';
import { localTo, type Surface } from './surfaces';

/** A surface that closes round an axis. */
export type Round = Exclude<Surface, { kind: 'plane' | 'other' }>;

/** The turns of a loop about the axis of its surface, and about the tube of a torus. */
export function windsAround(surface: Round, points: readonly Vector3[]): boolean {
  const places = unrolled(surface, points);
  const [first, last] = [places[0]!, places.at(-1)!];
  return (
    Math.abs(last[0] - first[0]) > Math.PI ||
    (surface.kind === 'torus' && Math.abs(last[1] - first[1]) > Math.PI)
  );
}

/** Twice the area inside a loop, unrolled; positive for one that goes round it as outer bounds do. */
export function unrolledArea(surface: Round, points: readonly Vector3[]): number {
  const places = unrolled(surface, points);
  let sum = 0;
  for (let n = 0; n + 1 < places.length; n++)
    sum += places[n]![0] * places[n + 1]![1] - places[n + 1]![0] * places[n]![1];
  return sum;
}

/** A closed loop as angle about the axis and place along it (angle on the tube of a torus), without jumps; the start stands at its end again. */
function unrolled(surface: Round, points: readonly Vector3[]): [number, number][] {
  const places: [number, number][] = [];
  for (const point of [...points, points[0]!]) {
    const [x, y, z] = localTo(surface.placement, point);
    let around = Math.atan2(y, x);
    let along = surface.kind === 'torus' ? Math.atan2(z, Math.hypot(x, y) - surface.radius) : z;
    const before = places.at(-1);
    if (before) {
      around = nearTo(around, before[0]);
      if (surface.kind === 'torus') along = nearTo(along, before[1]);
    }
    places.push([around, along]);
  }
  return places;
}

function nearTo(angle: number, other: number): number {
  return angle - 2 * Math.PI * Math.round((angle - other) / (2 * Math.PI));
}

/** Twice the area inside a loop in space, as a vector along its normal. */
export function areaVector(points: readonly Vector3[]): Vector3 {
  let sum: Vector3 = [0, 0, 0];
  for (const [n, point] of points.entries()) sum = add(sum, cross(point, points[(n + 1) % points.length]!));
  return sum;
}
