import type { Part21File } from '#core/files/part21/file';
import { numberOf, referenceOf, referencesOf } from '#core/files/part21/parameters';
import { transformPoint, type Vector3 } from '#core/product/matrix';
import { axisPlacement } from '#core/product/placements';
import { localTo, triple } from './surfaces';

/** Points of a whole circle. */
const AROUND = 24;
const SAME = 1e-9;

/** An edge as points in a row, from its start to its end, mm. Free-form curves are taken by their control points. */
export function edgePoints(
  file: Part21File,
  curve: number | undefined,
  { start, end, isSame }: { start: Vector3; end: Vector3; isSame: boolean },
  millimetres: number,
  depth = 0,
): Vector3[] {
  const type = (curve === undefined ? '' : file.typeOf(curve)) ?? '';
  const parameters = file.parameters(curve);
  if (depth > 4) return [start, end];
  if (/^(SURFACE|SEAM|INTERSECTION)_CURVE$/.test(type) || type === 'TRIMMED_CURVE')
    return edgePoints(file, referenceOf(parameters?.[1]), { start, end, isSame }, millimetres, depth + 1);
  if (type === 'CIRCLE' || type === 'ELLIPSE') {
    const placement = axisPlacement(file, referenceOf(parameters?.[1]), millimetres);
    const first = (numberOf(parameters?.[2]) ?? 0) * millimetres;
    const second = type === 'CIRCLE' ? first : (numberOf(parameters?.[3]) ?? 0) * millimetres;
    if (!placement || first <= 0 || second <= 0) return [start, end];
    const angle = (point: Vector3) => {
      const [x, y] = localTo(placement, point);
      return Math.atan2(y / second, x / first);
    };
    const from = angle(start);
    let turn = angle(end) - from;
    const isWhole = Math.hypot(start[0] - end[0], start[1] - end[1], start[2] - end[2]) < SAME + 1e-7 * first;
    if (isSame) while (turn <= (isWhole ? SAME : 0)) turn += 2 * Math.PI;
    else while (turn >= (isWhole ? -SAME : 0)) turn -= 2 * Math.PI;
    const steps = Math.max(2, Math.ceil((Math.abs(turn) / (2 * Math.PI)) * AROUND));
    const points = Array.from({ length: steps - 1 }, (_, n) => {
      const at = from + (turn * (n + 1)) / steps;
      return transformPoint(placement, [first * Math.cos(at), second * Math.sin(at), 0]);
    });
    return [start, ...points, end];
  }
  const listed =
    type === 'POLYLINE'
      ? referencesOf(parameters?.[1])
      : type.startsWith('B_SPLINE_CURVE') || type === '' // a rational one is a complex instance
        ? referencesOf(
            parameters?.[2] ?? (curve === undefined ? undefined : file.entity(curve, 'B_SPLINE_CURVE')?.[1]),
          )
        : [];
  const inner = listed
    .map((id) => triple(file.entity(id, 'CARTESIAN_POINT')?.[1], millimetres))
    .filter((point) => point !== undefined);
  if (!isSame) inner.reverse();
  return [start, ...inner.slice(1, -1), end];
}
