import { OcctStepFile } from '#core/geometry/shape/occt';
import { isValidShape } from '#core/geometry/shape/occt-check';
import type { GeometryJob } from './geometry-job';

export interface BodiesToCheck {
  step: Uint8Array;
  /** Numbers of the body entities in the file. */
  bodies: readonly number[];
}

/** Checks bodies as the kernel does. Its result: those that are not valid. */
export const CHECK_BODIES: GeometryJob<BodiesToCheck, never, number[]> = {
  run(kernel, { step, bodies }) {
    using file = new OcctStepFile(kernel, step, new Set(bodies));
    return bodies.filter((body) => {
      using shape = file.translate(body);
      return !isValidShape(kernel, shape);
    });
  },
};
