import { CutError, type CutPiece, type CutStep } from '#core/geometry/shape/cut';
import { OcctStepFile } from '#core/geometry/shape/occt';
import type { GeometryJob } from './geometry-job';

export interface BodyToCut {
  step: Uint8Array;
  body: number;
  steps: readonly CutStep[];
  /** Of length for the pieces' text, as the kernel names it (`MM`, `INCH`, ...). */
  unit: string;
}

/** The pieces, or why there are none, and at which step, counted from 0. */
export type CutResult = { pieces: CutPiece[] } | { refused: string; step: number | null };

/** Cuts one body step by step; tells after each. */
export const CUT_BODY: GeometryJob<BodyToCut, number, CutResult> = {
  run(kernel, { step, body, steps, unit }, tell) {
    const faces = steps.flatMap(({ cutter }) => {
      if (cutter.kind === 'face') return [cutter.of];
      return cutter.kind === 'line' && 'of' in cutter.along ? [cutter.along.of] : [];
    });
    const wanted = [body, ...faces.filter((of) => typeof of === 'number')];
    using file = new OcctStepFile(kernel, step, new Set(wanted));
    try {
      return { pieces: file.cut(body, steps, unit, tell) };
    } catch (error) {
      if (!(error instanceof CutError)) throw error;
      return { refused: error.message, step: error.step };
    }
  },
};
