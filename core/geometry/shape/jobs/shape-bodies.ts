import type { BodyShape, WantedOfBody } from '#core/geometry/shape/body-shape';
import { OcctStepFile } from '#core/geometry/shape/occt';
import type { GeometryJob } from './geometry-job';

export interface BodiesToShape extends WantedOfBody {
  step: Uint8Array;
  /** Numbers of the body entities in the file. */
  bodies: readonly number[];
}

/** It starts on a body, or a body is done. */
export type ShapeTold = { start: number } | { shape: BodyShape };

/** Meshes and measures bodies, one by one. */
export const SHAPE_BODIES: GeometryJob<BodiesToShape, ShapeTold, null> = {
  run(kernel, { step, bodies, ...wanted }, tell) {
    using file = new OcctStepFile(kernel, step, new Set(bodies));
    for (const body of bodies) {
      tell({ start: body });
      const shape = file.shape(body, wanted);
      tell({ shape }, buffersOf(shape));
    }
    return null;
  },
};

function buffersOf(shape: BodyShape): ArrayBuffer[] {
  if (!('mesh' in shape) || !shape.mesh) return [];
  return Object.values(shape.mesh).flatMap((values) =>
    typeof values === 'number' ? [] : [values.buffer as ArrayBuffer],
  );
}
