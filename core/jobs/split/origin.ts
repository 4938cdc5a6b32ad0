import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { IDENTITY, type Matrix4, placementFromAxes, type Vector3 } from '#core/product/matrix';
import type { Origin } from './choices';
import type { GroupFacts } from './groups';

/**
 * Where a part's origin lies on its body, in the body's own coordinates, mm. Identity where the kernel knows nothing of
 * the body, and for the axis of a body without cylinders.
 */
export function originOn(
  origin: Origin,
  { facts, features }: { facts?: GroupFacts; features?: MeasuredBody['features'] },
): Matrix4 {
  if (origin === 'source' || !facts) return IDENTITY;
  const { box, centre } = facts;
  if (origin === 'corner') return placementFromAxes([box[0], box[1], box[2]]);
  if (origin === 'centre')
    return placementFromAxes([(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2]);
  if (origin === 'centroid') return placementFromAxes(centre);

  // The largest cylinder; the two points on its axis follow its face in the list of features.
  let largest = -1;
  for (const [n, feature] of (features ?? []).entries()) {
    if (feature.kind !== 'face cylinder') continue;
    if (largest < 0 || feature.radius * feature.size > features![largest]!.radius * features![largest]!.size)
      largest = n;
  }
  if (largest < 0) return IDENTITY;
  const [a, b] = [features![largest + 1]!.at, features![largest + 2]!.at];
  const length = Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  const axis = a.map((value, n) => (value - b[n]!) / length) as unknown as Vector3;
  const foot = a.map((value, n) => (value + b[n]!) / 2) as unknown as Vector3;
  return placementFromAxes(foot, axis);
}
