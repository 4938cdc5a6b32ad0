import type { Part21File } from '#core/files/part21/file';
import { type BoundaryFace, readBoundary } from '#core/geometry/boundary/boundary';
import { edgesOf } from '#core/geometry/boundary/loops';
import { writeBoundary } from '#core/geometry/boundary/write-boundary';
import type { Topology } from '#core/geometry/fill/topology';
import type { Triangle } from '#core/geometry/shape/triangles';
import { diagonalOf, emptyBox, growBox } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { joinEdges, joinFaces } from './join';
import { sharpen } from './sharpen';
import { closeSlots } from './slots';

/** What is made coarser in a body. */
export interface Coarser {
  /** Rounds up to this radius, and bevels that take off no more, become sharp edges, mm; null for none. */
  edges: number | null;
  /** What is open over edges is filled, up to this width, mm; `all`, or null for none. */
  slots: number | 'all' | null;
  /** Faces of one surface become one. */
  join: boolean;
}

/** What was made coarser. */
export interface Coarsened {
  bytes: Uint8Array;
  /** ADVANCED_FACEs of rounds and bevels that have gone. */
  edges: number;
  /** How far sharp edges lie at most from the rounds and bevels that they came of, mm. */
  off: number;
  slots: number;
  joined: number;
  /** Faces that have gone in all. */
  gone: number;
}

/** What may be taken away of a body, by positions of faces. */
export interface Free {
  /** Whether a face may go, or be changed. */
  mayGo: (face: number) => boolean;
  /** Whether a face may go with a slot. */
  mayFill: (face: number) => boolean;
}

/**
 * Makes a body coarser in its text: rounds and bevels first, since slots often have them at their mouths, then slots, then faces that have come to
 * lie in one. Linear in faces for each thing that is taken away.
 * @param trianglesOf the triangles of each face, by position
 * @param free what may be taken away; everything unless it is said
 * @returns undefined where there is nothing to do
 * @throws OddTopology for a body that is no plain closed boundary
 */
export function coarsen(
  { file, topology, millimetres }: { file: Part21File; topology: Topology; millimetres: number },
  trianglesOf: readonly (readonly Triangle[])[],
  coarser: Coarser,
  { mayGo, mayFill }: Free = { mayGo: () => true, mayFill: () => true },
): Coarsened | undefined {
  const boundary = readBoundary(file, topology, millimetres);
  const isFree = ({ position }: BoundaryFace) => mayGo(position);
  const box = emptyBox();
  for (const triangles of trianglesOf)
    for (const triangle of triangles) for (const corner of triangle) growBox(box, corner);

  const sharpened = coarser.edges === null ? [] : sharpen(boundary, coarser.edges, isFree);
  function* pointsOf(face: BoundaryFace): Iterable<Vector3> {
    for (const { points } of edgesOf(face)) yield* points;
    for (const triangle of trianglesOf[face.position] ?? []) yield* triangle;
  }
  const slots =
    coarser.slots === null
      ? []
      : closeSlots(boundary, {
          pointsOf,
          size: diagonalOf(box),
          most: coarser.slots === 'all' ? null : coarser.slots,
          mayGo: isFree,
          mayFill: ({ position }) => mayFill(position),
        });
  const joined = coarser.join ? joinFaces(boundary, isFree) : 0;
  if (sharpened.length + slots.length + joined === 0) return undefined;
  joinEdges(boundary, isFree);
  return {
    bytes: writeBoundary(file, boundary),
    edges: sharpened.reduce((sum, { faces }) => sum + faces.length, 0),
    off: Math.max(0, ...sharpened.map(({ off }) => off)),
    slots: slots.length,
    joined,
    gone: boundary.gone.length,
  };
}
