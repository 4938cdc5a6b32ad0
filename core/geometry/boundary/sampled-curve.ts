import { localTo } from '#core/geometry/fill/surfaces';
import { transformPoint, type Vector3 } from '#core/product/matrix';
import { type EdgeCurve, turnBetween } from './edge-curves';

/** Points of a whole circle. */
const AROUND = 24;

/** Points in a row along a line or a circle, from one to another. @param isSame whether it goes the curve's own way */
export function sampledCurve(curve: EdgeCurve, from: Vector3, to: Vector3, isSame: boolean): Vector3[] {
  if (curve.kind !== 'circle') return [from, to];
  const turn = isSame ? turnBetween(curve, from, to) : -turnBetween(curve, to, from);
  const [x, y] = localTo(curve.placement, from);
  const start = Math.atan2(y, x);
  const steps = Math.max(2, Math.ceil((Math.abs(turn) / (2 * Math.PI)) * AROUND));
  const inner = Array.from({ length: steps - 1 }, (_, n) => {
    const angle = start + (turn * (n + 1)) / steps;
    return transformPoint(curve.placement, [
      curve.radius * Math.cos(angle),
      curve.radius * Math.sin(angle),
      0,
    ]);
  });
  return [from, ...inner, to];
}
