import { Refusal } from '#core/refusal';
import type { BodyFacts, BodyMesh } from './body';
import type { ShapeFeature } from './features';

export type Point = readonly [number, number, number];

/** A face of a body of the file (by the body's number) or of a piece (by its path), counted as in `faceGroups`. */
export interface FaceOf {
  of: number | string;
  face: number;
}

/**
 * What cuts. All points in millimetres, in the coordinates of the body that is cut.
 * A plane goes on without end. A face goes on as its surface does: a plane without end, a cylinder along its axis;
 * other surfaces end where the face ends. A line of two or more points is swept both ways through the body; its ends
 * go on straight unless it is closed.
 */
export type Cutter =
  | { kind: 'plane'; at: Point; normal: Point }
  | ({ kind: 'face' } & FaceOf)
  | { kind: 'line'; points: readonly Point[]; along: Point | FaceOf };

/** One cut: of the body (path '') or of a piece that earlier cuts made. Its pieces are `1`, `2`, ... or `2.1`, `2.2`. */
export interface CutStep {
  piece: string;
  cutter: Cutter;
}

/** A piece that the cuts leave. */
export interface CutPiece {
  path: string;
  facts: BodyFacts;
  mesh: BodyMesh;
  features: ShapeFeature[];
  /** For each face in turn, which face of the body it is or was part of; null for one that a cut made. */
  faces: (number | null)[];
  /** Why it looks like a mistake rather than a piece; null when it does not. */
  sliver: string | null;
  /** The piece alone as STEP, in the file's own unit of length. */
  step: Uint8Array;
}

/** A cut that cannot be made, in words for the engineer; `step` counts from 0. */
export class CutError extends Refusal {
  constructor(
    message: string,
    readonly step: number | null = null,
  ) {
    super(message);
  }
}

/** Pieces thinner than this part of the body's own mean thickness, or smaller than that part of it, are slivers. */
const SLIVER = { thickness: 0.03, volume: 1e-4 };

/** Says why a piece is a sliver. Mean thickness is twice the volume by the area, mm. */
export function sliverOf(piece: BodyFacts, body: BodyFacts): string | null {
  const thickness = (2 * piece.volume) / piece.area;
  const thin = thickness < SLIVER.thickness * ((2 * body.volume) / body.area);
  if (!thin && piece.volume >= SLIVER.volume * body.volume) return null;
  return `A sliver: ${Number(thickness.toPrecision(2))} mm thick on average, ${Number(((100 * piece.volume) / body.volume).toPrecision(2))} % of the body. Move the cut, or leave it out.`;
}

/** The next pieces of a piece: `3` has `3.1`, `3.2`; the body itself has `1`, `2`. */
export function piecePath(piece: string, n: number): string {
  return piece === '' ? String(n + 1) : `${piece}.${n + 1}`;
}
