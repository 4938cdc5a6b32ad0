import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import type { BodyMesh } from '#core/geometry/shape/body';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { SolidShape } from '#core/geometry/solids/write-solid';
import type { Box } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import type { SealedWay } from './choices';

/** What is to become one solid. */
export interface ToSeal {
  /** The STEP file that places it. */
  lite: Uint8Array;
  reduced: ReducedWhole;
  /** Points on its outside, which pins stay away from. */
  outside: readonly Vector3[];
  /** Boxes of what is no part of it and stands in hollows of it: those stay. */
  guests: readonly Box[];
  /** How far the result may lie off where it is not exact, mm. */
  within: number;
  /** Radius of beads, mm. */
  bead: number;
}

/** One solid that came of it. */
export interface SealedSolid {
  shape: SolidShape;
  mesh: BodyMesh;
  /** Closed, vertices at one place as one. */
  closed: SolidMesh;
  volume: number;
  isValid: boolean;
}

/** The solids, the one that counts first, however they were made. */
export interface Sealed {
  way: SealedWay;
  solids: SealedSolid[];
  hollows: number;
  pins: number;
  /** Edges along which bodies only touched, and that are joined by a bead. */
  beads: number;
  /** Bodies that were made a little larger or smaller so that the kernel could unite them, by so much, mm. */
  nudged: { bodies: number; by: number } | null;
  /** Bodies of it that are of flat facets. */
  faceted: number;
  /** Of an envelope: how far it may stand off, mm. */
  standOff: number | null;
  refused: string | null;
  /** Bodies that were left out: they are no closed solids. */
  odd: number;
}
