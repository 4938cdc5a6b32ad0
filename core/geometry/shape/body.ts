/** A mesh for display, in millimetres, in the file's own coordinates. */
export interface BodyMesh {
  /** x y z for each vertex. */
  positions: Float32Array;
  /** x y z for each vertex, unit length. */
  normals: Float32Array;
  /** Three vertices for each triangle, anticlockwise seen from outside. */
  triangles: Uint32Array;
  /** For each face of the body in turn: its first index into `triangles`, and how many. */
  faceGroups: Uint32Array;
  /** Pairs of points: the segments of the edge curves. */
  edges: Float32Array;
  /** How far it may lie off the surfaces, mm. */
  chord: number;
}

/** Properties of a body, computed from its surfaces. */
export interface BodyFacts {
  /** mm³; 0 for open surfaces; negative for a solid that is turned inside out. */
  volume: number;
  /** mm². */
  area: number;
  /** Centre of the volume (of the area for open surfaces), mm. */
  centre: [number, number, number];
  /** Principal moments of inertia of the volume about its centre, the least first, mm⁵; 0 for open surfaces. */
  moments: [number, number, number];
  /** Smallest and largest x, y, z, mm. */
  box: [number, number, number, number, number, number];
  /** How far a side of the box may be off, mm: 0 where it is exact. */
  boxTolerance: number;
  faces: number;
  /** Why these figures are not to be trusted, in words; null or left out when they fit each other. */
  doubt?: string | null;
}
