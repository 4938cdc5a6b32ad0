/** Millimetres, in the file's own coordinates. */
export type ExactPoint = readonly [x: number, y: number, z: number];

/**
 * The surface of one face as the kernel knows it, in the order of the face groups of the mesh. Directions have unit length; the normal
 * of a plane points out of the body.
 */
export type ExactFace =
  | { kind: 'plane'; area: number; at: ExactPoint; normal: ExactPoint }
  | { kind: 'cylinder'; area: number; at: ExactPoint; axis: ExactPoint; radius: number }
  | { kind: 'cone'; area: number; at: ExactPoint; axis: ExactPoint; radius: number; halfAngle: number }
  | { kind: 'sphere'; area: number; at: ExactPoint; radius: number }
  | { kind: 'torus'; area: number; at: ExactPoint; axis: ExactPoint; radius: number; tube: number }
  /** Free-form: what it is called, and its area. */
  | { kind: 'free'; area: number; surface: string };

/** The curve of one edge; seams of closed surfaces, which are no part of the shape, are left out. */
export type ExactEdge =
  | { kind: 'line'; length: number; from: ExactPoint; to: ExactPoint }
  /** `middle` lies half-way along: with it an arc is told from its counterpart. The ends of a whole circle are one point. */
  | {
      kind: 'circle';
      length: number;
      at: ExactPoint;
      axis: ExactPoint;
      radius: number;
      from: ExactPoint;
      to: ExactPoint;
      middle: ExactPoint;
    }
  /** Points on the curve, evenly over its parameter. */
  | { kind: 'free'; length: number; curve: string; points: ExactPoint[] };

/** Faces and edges of one body, to be measured. Lengths in mm, areas in mm², angles in radians. */
export interface ExactBody {
  faces: ExactFace[];
  edges: ExactEdge[];
}
