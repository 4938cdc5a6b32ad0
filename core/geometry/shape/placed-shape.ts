import type { BodyFacts } from '#core/geometry/shape/body';
import type { ShapeFeature, ShapeFeatures } from '#core/geometry/shape/features';
import { diagonalOf } from '#core/product/box';
import { type Matrix4, transformPoint, type Vector3 } from '#core/product/matrix';

/** What the kernel found out about a body; without features when it refused the body. */
export interface MeasuredBody {
  facts?: BodyFacts;
  features?: ShapeFeature[];
  error?: string;
}

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
    diagonal: diagonalOf(box),
    features: features.map(({ kind, size, radius, at }) => ({ kind, size, radius, at: move(at) })),
  };
}
