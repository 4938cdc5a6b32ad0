import { type EdgeCurve, offCurve } from '#core/geometry/boundary/edge-curves';
import { offSurface, type Surface } from '#core/geometry/fill/surfaces';
import type { Vector3 } from '#core/product/matrix';
import { add, length } from '#core/product/vector';

const MOST_STEPS = 30;
/** By what each coordinate is moved to see how distances change, mm. */
const PROBE = 1e-6;
/** Of what is not held at all, nothing is moved. */
const DAMPING = 1e-9;

/**
 * The point nearest by where surfaces and curves meet, by Gauss-Newton steps on the distances from them.
 * @param close how far it may lie off each of them, mm
 * @returns undefined where they do not meet, or one of them has no formula
 */
export function meetingPoint(
  start: Vector3,
  surfaces: readonly Surface[],
  curves: readonly EdgeCurve[],
  close: number,
): Vector3 | undefined {
  if (surfaces.some(({ kind }) => kind === 'other')) return undefined;
  const offs = (point: Vector3): number[] => [
    ...surfaces.map((surface) => offSurface(surface, point)!),
    ...curves.flatMap((curve) => offCurve(curve, point)),
  ];
  let point = start;
  for (let step = 0; step < MOST_STEPS; step++) {
    const now = offs(point);
    const slopes = [0, 1, 2].map((axis) => {
      const shift: [number, number, number] = [0, 0, 0];
      shift[axis] = PROBE;
      return offs(add(point, shift)).map((off, n) => (off - now[n]!) / PROBE);
    });
    const move = solved(
      slopes.map((one) => slopes.map((other) => sumOf(one, other))),
      slopes.map((one) => -sumOf(one, now)),
    );
    if (!move) return undefined;
    point = add(point, move);
    if (length(move) < 1e-12) break;
  }
  return offs(point).every((off) => Math.abs(off) < close) ? point : undefined;
}

function sumOf(a: readonly number[], b: readonly number[]): number {
  return a.reduce((sum, value, n) => sum + value * b[n]!, 0);
}

/** Solves three equations, damped, by Cramer's rule. */
function solved(matrix: readonly (readonly number[])[], right: readonly number[]): Vector3 | undefined {
  const m = matrix.map((row, n) => row.map((value, at) => value + (n === at ? DAMPING : 0)));
  const determinant = (a: readonly (readonly number[])[]) =>
    a[0]![0]! * (a[1]![1]! * a[2]![2]! - a[1]![2]! * a[2]![1]!) -
    a[0]![1]! * (a[1]![0]! * a[2]![2]! - a[1]![2]! * a[2]![0]!) +
    a[0]![2]! * (a[1]![0]! * a[2]![1]! - a[1]![1]! * a[2]![0]!);
  const all = determinant(m);
  if (!Number.isFinite(all) || all === 0) return undefined;
  const [x, y, z] = [0, 1, 2].map(
    (column) => determinant(m.map((row, n) => row.map((v, at) => (at === column ? right[n]! : v)))) / all,
  );
  return [x!, y!, z!];
}
