import { type Matrix4, transformPoint, type Vector3 } from '#core/product/matrix';
import type { ShapeFeatures } from '#core/shape/features';
import type { MeasuredBody } from './groups';

/** What congruence looks at, of a measured body and moved to where it stands. */
export function placedShape({ facts, features }: MeasuredBody, placement: Matrix4): ShapeFeatures | null {
  if (!facts || !features) return null;
  const { volume, area, moments, box } = facts;
  const move = (at: Vector3) => [...transformPoint(placement, at)] as [number, number, number];
  return {
    volume,
    area,
    centre: move(facts.centre),
    moments,
    diagonal: Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]),
    features: features.map(({ kind, size, radius, at }) => ({ kind, size, radius, at: move(at) })),
  };
}
