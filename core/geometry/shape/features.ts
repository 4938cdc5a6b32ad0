/**
 * One thing that tells a shape from others and moves with it: a vertex, the middle of an edge or a face, a point of a
 * free-form curve or surface, a point on an axis of revolution. Whether two bodies are the same shape is decided on
 * these alone (core/geometry/shape/congruence).
 */
export interface ShapeFeature {
  /** What it is, and of which geometry: `vertex`, `edge line`, `face cylinder`, `axis of circle`, ... */
  kind: string;
  /** Length of an edge in mm, area of a face in mm²; 0 for points. */
  size: number;
  /** Of a circle, cylinder or sphere, mm; 0 for others. */
  radius: number;
  /** Where it is, mm, in the body's own coordinates. */
  at: [number, number, number];
}

/** Everything about one body that congruence looks at. */
export interface ShapeFeatures {
  /** mm³; 0 for open surfaces. */
  volume: number;
  /** mm². */
  area: number;
  /** Centre of the volume, or of the area for open surfaces, mm. */
  centre: [number, number, number];
  /** Principal moments of inertia of the volume about its centre, the least first, mm⁵; 0 for open surfaces. */
  moments: [number, number, number];
  /** Diagonal of the box, mm. */
  diagonal: number;
  features: ShapeFeature[];
}
