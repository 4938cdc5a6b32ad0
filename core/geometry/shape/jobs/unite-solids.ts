import type { BodyMesh } from '#core/geometry/shape/body';
import { meshSolids, type OcctUnion, uniteSolids } from '#core/geometry/shape/occt-unite';
import type { Pin } from '#core/geometry/shape/unite';
import type { Box } from '#core/product/box';
import type { GeometryJob } from './geometry-job';

export interface SolidsToUnite {
  step: Uint8Array;
  pins: readonly Pin[];
  /** Boxes of what stands in hollows that have to stay; mm. */
  guests: readonly Box[];
}

/** Unites all solids that a STEP file places; tells what it is doing. */
export const UNITE_SOLIDS: GeometryJob<SolidsToUnite, string, OcctUnion> = {
  run: (kernel, { step, pins, guests }, tell) => uniteSolids(kernel, step, { pins, guests }, tell),
};

export interface SolidsToMesh {
  step: Uint8Array;
  /** mm. */
  chord: number;
}

/** Meshes all solids that a STEP file places, as finely as is asked. */
export const MESH_SOLIDS: GeometryJob<SolidsToMesh, never, BodyMesh[]> = {
  run: (kernel, { step, chord }) => meshSolids(kernel, step, chord),
};
