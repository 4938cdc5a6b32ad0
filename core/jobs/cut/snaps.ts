import type { ShapeFeature } from '#core/geometry/shape/features';

/** The points of a body that a drawn line catches: its corners and the middles of its straight edges, mm. */
export function catchingPoints(features: readonly ShapeFeature[]): [number, number, number][] {
  return features.flatMap(({ kind, at }) => (kind === 'vertex' || kind === 'edge line' ? [at] : []));
}
