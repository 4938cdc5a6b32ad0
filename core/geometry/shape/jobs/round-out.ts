import { OcctStepFile } from '#core/geometry/shape/occt';
import { type RingToFill, roundOutShape } from '#core/geometry/shape/occt-round-out';
import type { TrimmedShape } from '#core/geometry/shape/occt-trim';
import type { GeometryJob } from './geometry-job';

export interface BodiesToRoundOut {
  step: Uint8Array;
  bodies: readonly { body: number; rings: readonly RingToFill[] }[];
}

/**
 * Fills the rings in which teeth, threads and fins stand; tells after each body. Its result, for each in turn: what it is then, or why that
 * could not be done.
 */
export const ROUND_OUT: GeometryJob<BodiesToRoundOut, number, (TrimmedShape | string)[]> = {
  run(kernel, { step, bodies }, tell) {
    using file = new OcctStepFile(kernel, step, new Set(bodies.map(({ body }) => body)));
    return bodies.map(({ body, rings }, done) => {
      using shape = file.translate(body);
      const round = roundOutShape(kernel, shape, rings);
      tell(done + 1);
      return round;
    });
  },
};
