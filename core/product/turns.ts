import type { Matrix4, Vector3 } from './matrix';

const DEGREE = Math.PI / 180;

/**
 * A placement as people type it.
 * @param position mm
 * @param turn degrees about x, then about y, then about z, each as the assembly has them
 */
export function placementOf(position: Vector3, turn: Vector3): Matrix4 {
  const [a, b, c] = turn.map((angle) => ({ sin: sine(angle), cos: sine(angle + 90) })) as [Turn, Turn, Turn];
  const placement = [
    c.cos * b.cos,
    c.cos * b.sin * a.sin - c.sin * a.cos,
    c.cos * b.sin * a.cos + c.sin * a.sin,
    position[0],
    c.sin * b.cos,
    c.sin * b.sin * a.sin + c.cos * a.cos,
    c.sin * b.sin * a.cos - c.cos * a.sin,
    position[1],
    -b.sin,
    b.cos * a.sin,
    b.cos * a.cos,
    position[2],
    0,
    0,
    0,
    1,
  ];
  // No negative zeros: they would be written so.
  return placement.map((value) => value + 0);
}

/** Where a placement lies, mm. */
export function positionOf(placement: Matrix4): Vector3 {
  return [placement[3]!, placement[7]!, placement[11]!];
}

/** How a rigid placement is turned, in degrees as `placementOf` takes them; upright, it is turned about z alone. */
export function turnOf(placement: Matrix4): Vector3 {
  const at = (row: number, column: number): number => placement[4 * row + column]!;
  const [r00, r10, r20] = [at(0, 0), at(1, 0), at(2, 0)];
  const b = Math.atan2(-r20, Math.hypot(r00, r10));
  if (Math.abs(Math.abs(r20) - 1) < 1e-12) {
    const c = Math.atan2(-at(0, 1), at(1, 1));
    return [0, b / DEGREE, c / DEGREE];
  }
  return [Math.atan2(at(2, 1), at(2, 2)) / DEGREE, b / DEGREE, Math.atan2(r10, r00) / DEGREE];
}

interface Turn {
  sin: number;
  cos: number;
}

/** Exact at right angles. */
function sine(degrees: number): number {
  const angle = ((degrees % 360) + 360) % 360;
  if (angle % 180 === 0) return 0;
  if (angle === 90) return 1;
  if (angle === 270) return -1;
  return Math.sin(angle * DEGREE);
}
