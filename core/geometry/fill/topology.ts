import type { Vector3 } from '#core/product/matrix';
import { add, scale } from '#core/product/vector';
import type { Surface } from './surfaces';

/** A bound of a face: its edges in order, or none where it is a single vertex. */
export interface Loop {
  /** FACE_BOUND or FACE_OUTER_BOUND; below 0 for a rim that is no bound of its own, but part of others. */
  bound: number;
  /** EDGE_CURVEs. */
  edges: number[];
  /** In the order of the loop, mm. */
  points: Vector3[];
  /** Whether it bounds a hole in the face, or a boss on it. */
  isInner: boolean;
  /** EDGE_LOOP, and its ORIENTED_EDGEs in order. */
  path?: number;
  oriented?: OrientedEdge[];
  /** Whether the bound goes round it the other way. */
  isReversed?: boolean;
  /** Of a rim that is part of other bounds: how they are closed where it is taken out. */
  closing?: Closing;
  /** Positions of the faces that a rim lies in, where there are two. */
  hosts?: readonly number[];
}

export interface OrientedEdge {
  id: number;
  edge: number;
  /** VERTEX_POINTs, in the direction of the loop. */
  from: number;
  to: number;
  isForward: boolean;
}

/**
 * How the outer bounds are closed that a rim is part of: a rim across the seam of a closed surface, which its one loop goes along both ways;
 * or a rim across an edge between two faces of one surface.
 */
export interface Closing {
  /** Stretches of EDGE_LOOPs, as their ORIENTED_EDGEs. The first leads `from` a VERTEX_POINT `to` another, the second back. */
  stretches: [Stretch, Stretch];
  from: number;
  to: number;
  /** The curve on which both ends lie, and whether it runs that way. */
  curve: number;
  isSame: boolean;
}

interface Stretch {
  path: number;
  edges: number[];
}

export interface Face {
  id: number;
  shell: number;
  surface: Surface;
  /** Whether the surface's normal points out of the body. */
  isSame: boolean;
  loops: Loop[];
}

/** A solid's faces, and how they hang together. Positions in `faces` are those of the kernel's mesh. */
export interface Topology {
  faces: Face[];
  /** The shells, the outer one first. */
  shells: number[];
  /** Where each EDGE_CURVE is used. */
  uses: Map<number, { face: number; loop: number }[]>;
  points: Map<number, Vector3[]>;
}

/** Why a body is left as it is. */
export class OddTopology extends Error {}

/** The middle of a row of points. */
export function middleOfPoints(points: readonly Vector3[]): Vector3 {
  return scale(
    points.reduce<Vector3>((sum, point) => add(sum, point), [0, 0, 0]),
    1 / points.length,
  );
}
