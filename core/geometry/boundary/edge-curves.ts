import type { Part21File } from '#core/files/part21/file';
import { numberOf, Real, type Reference, referenceOf } from '#core/files/part21/parameters';
import type { Part21Builder } from '#core/files/part21/write';
import { areParallel, axisOf, localTo, originOf, triple } from '#core/geometry/fill/surfaces';
import type { Matrix4, Vector3 } from '#core/product/matrix';
import { axisPlacement } from '#core/product/placements';
import { cross, distance, distanceFromLine, dot, length, scale, subtract, unit } from '#core/product/vector';
import { addAxisPlacement } from '#core/product/write-geometry';

/** The curve of an edge (ISO 10303-42), as far as edges are moved and joined; lengths in mm. What is `written` stands in the file. */
export type EdgeCurve = (
  | { kind: 'line'; at: Vector3; direction: Vector3 }
  | { kind: 'circle'; placement: Matrix4; radius: number }
  | { kind: 'other' }
) & { written?: number };

/** Wrappers that are looked through: curves on surfaces, pieces of curves. */
const MOST_WRAPPERS = 4;

export function readEdgeCurve(file: Part21File, id: number, millimetres: number, depth = 0): EdgeCurve {
  const type = file.typeOf(id) ?? '';
  const parameters = file.parameters(id);
  const inner = referenceOf(parameters?.[1]);
  if (/^((SURFACE|SEAM|INTERSECTION)_CURVE|TRIMMED_CURVE)$/.test(type) && inner !== undefined)
    if (depth < MOST_WRAPPERS) return readEdgeCurve(file, inner, millimetres, depth + 1);
  if (type === 'LINE') {
    const at = triple(file.entity(inner, 'CARTESIAN_POINT')?.[1], millimetres);
    const vector = file.entity(referenceOf(parameters?.[2]), 'VECTOR');
    const direction = triple(file.entity(referenceOf(vector?.[1]), 'DIRECTION')?.[1], 1);
    if (at && direction) return { kind: 'line', at, direction: unit(direction), written: id };
  }
  if (type === 'CIRCLE') {
    const placement = axisPlacement(file, inner, millimetres);
    const radius = (numberOf(parameters?.[2]) ?? 0) * millimetres;
    if (placement && radius > 0) return { kind: 'circle', placement, radius, written: id };
  }
  return { kind: 'other', written: id };
}

/** Writes a curve that is not in the file yet, in the file's unit. */
export function addEdgeCurve(builder: Part21Builder, curve: EdgeCurve, millimetres: number): Reference {
  const reals = (values: readonly number[]) => values.map((value) => new Real(value));
  if (curve.kind === 'circle') {
    const placement = addAxisPlacement(builder, curve.placement, millimetres);
    return builder.add('CIRCLE', '', placement, new Real(curve.radius / millimetres));
  }
  if (curve.kind === 'other') throw new Error('Only lines and circles are written anew.');
  const at = curve.at.map((value) => value / millimetres);
  const point = builder.add('CARTESIAN_POINT', '', reals(at));
  const direction = builder.add('DIRECTION', '', reals(curve.direction));
  return builder.add('LINE', '', point, builder.add('VECTOR', '', direction, new Real(1)));
}

/** How far a point lies off a curve that goes on beyond its ends, across it in two directions, mm; none for other curves. */
export function offCurve(curve: EdgeCurve, point: Vector3): number[] {
  if (curve.kind === 'other') return [];
  if (curve.kind === 'line') {
    const off = subtract(point, curve.at);
    return [...subtract(off, scale(curve.direction, dot(off, curve.direction)))];
  }
  const [x, y, z] = localTo(curve.placement, point);
  return [Math.hypot(x, y) - curve.radius, z];
}

/** Where a curve leads at a point of it; of length 1. Undefined for other curves. */
export function directionAt(curve: EdgeCurve, point: Vector3): Vector3 | undefined {
  if (curve.kind === 'line') return curve.direction;
  if (curve.kind === 'other') return undefined;
  return unit(cross(axisOf(curve.placement), subtract(point, originOf(curve.placement))));
}

/** How far a circle turns from one of its points to another in its own sense, radians; a whole turn where they are the same one. */
export function turnBetween(
  { placement, radius }: Extract<EdgeCurve, { kind: 'circle' }>,
  from: Vector3,
  to: Vector3,
): number {
  if (distance(from, to) < SAME * (1 + radius)) return 2 * Math.PI;
  const angle = (point: Vector3) => {
    const [x, y] = localTo(placement, point);
    return Math.atan2(y, x);
  };
  const turn = angle(to) - angle(from);
  return turn > 0 ? turn : turn + 2 * Math.PI;
}

/** How far curves may differ that are one, mm. */
const SAME = 1e-6;

/** Whether two curves are one, whatever way they lead. */
export function isSameCurve(a: EdgeCurve, b: EdgeCurve): boolean {
  if (a.kind === 'line' && b.kind === 'line')
    return (
      areParallel(a.direction, b.direction) &&
      distanceFromLine(b.at, a.at, a.direction) < SAME * (1 + length(subtract(b.at, a.at)))
    );
  if (a.kind !== 'circle' || b.kind !== 'circle') return false;
  const tolerance = SAME * (1 + a.radius);
  return (
    Math.abs(a.radius - b.radius) < tolerance &&
    distance(originOf(a.placement), originOf(b.placement)) < tolerance &&
    areParallel(axisOf(a.placement), axisOf(b.placement))
  );
}
