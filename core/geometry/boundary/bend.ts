import { normalOfSurface } from '#core/geometry/fill/surfaces';
import type { Vector3 } from '#core/product/matrix';
import { add, cross, dot, length, scale, subtract, unit } from '#core/product/vector';
import type { BoundaryFace, Edge, UseInFace } from './boundary';
import { directionAt } from './edge-curves';

/** How two faces meet at an edge. */
export interface Bend {
  /** By what the outward normals turn, radians. */
  turn: number;
  /** Material lies on the inner side of the corner. */
  isConvex: boolean;
}

/** Where normals turn by less, the faces go over into each other without a corner; radians. */
export const SMOOTH = 0.02;

export function middleOf({ points }: Edge): Vector3 {
  if (points.length === 2) return scale(add(points[0]!, points[1]!), 0.5);
  return points[Math.floor(points.length / 2)]!;
}

/** The outward normal of a face at a point of it; undefined on surfaces that no formula is for. */
export function normalAt({ surface, isSame }: BoundaryFace, point: Vector3): Vector3 | undefined {
  const normal = normalOfSurface(surface, point);
  return normal && (isSame ? normal : scale(normal, -1));
}

/** How the two faces of an edge meet in its middle; undefined where that cannot be told. */
export function bendOf([one, other]: readonly UseInFace[]): Bend | undefined {
  if (!one || !other) return undefined;
  const { edge, isForward } = one.use;
  const at = middleOf(edge);
  const [a, b] = [normalAt(one.face, at), normalAt(other.face, at)];
  if (!a || !b) return undefined;
  const along = directionAt(edge.curve, at);
  const ahead = along
    ? scale(along, edge.isSame === isForward ? 1 : -1)
    : scale(chordAt(edge.points), isForward ? 1 : -1);
  const into = cross(a, ahead);
  return { turn: Math.atan2(length(cross(a, b)), dot(a, b)), isConvex: dot(b, into) < 0 };
}

/** About where a free curve leads in its middle. */
function chordAt(points: readonly Vector3[]): Vector3 {
  const middle = Math.floor(points.length / 2);
  return unit(subtract(points[Math.min(middle + 1, points.length - 1)]!, points[middle - 1] ?? points[0]!));
}
