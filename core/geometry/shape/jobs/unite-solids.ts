import type { BodyMesh } from '#core/geometry/shape/body';
import {
  meshSolids,
  type OcctUnion,
  type UnionRequest,
  uniteSolids,
  unitingTrouble,
} from '#core/geometry/shape/occt-unite';
import type { GeometryJob } from './geometry-job';

/** Unites all solids that a STEP file places; tells what it is doing. */
export const UNITE_SOLIDS: GeometryJob<UnionRequest, string, OcctUnion> = {
  run: (kernel, request, tell) => uniteSolids(kernel, request, tell),
};

/** Finds the solids that cannot be united with a neighbour. Its result: their positions in the file. */
export const UNITING_TROUBLE: GeometryJob<{ step: Uint8Array }, never, number[]> = {
  run: (kernel, { step }) => unitingTrouble(kernel, step),
};

export interface SolidsToMesh {
  step: Uint8Array;
  /** mm. */
  chord: number;
  /** Between neighbouring normals, radians; as for the stage unless it is said. */
  angle?: number;
}

/** Meshes all solids that a STEP file places, as finely as is asked. */
export const MESH_SOLIDS: GeometryJob<SolidsToMesh, never, BodyMesh[]> = {
  run: (kernel, { step, chord, angle }) => meshSolids(kernel, step, chord, angle),
};
