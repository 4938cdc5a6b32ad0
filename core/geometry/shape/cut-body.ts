import { CutError, type CutPiece, type CutStep } from './cut';
import { type Kernel, KernelTrouble } from './kernel';

export interface CutOptions {
  /** Told after each step. */
  onStep?: (done: number, of: number) => void;
  signal?: AbortSignal;
}

/**
 * Cuts one body of a STEP file step by step.
 * @param unit of length for the pieces' text, as the kernel names it (`MM`, `INCH`, ...)
 * @throws CutError for a cut that cannot be made, in words for the engineer
 */
export async function cutBody(
  kernel: Kernel,
  step: Uint8Array,
  body: number,
  steps: readonly CutStep[],
  unit: string,
  { onStep, signal }: CutOptions = {},
): Promise<CutPiece[]> {
  const onTold = (done: number) => onStep?.(done, steps.length);
  try {
    const result = await kernel.run('cutBody', { step, body, steps, unit }, { onTold, signal });
    if ('pieces' in result) return result.pieces;
    throw new CutError(result.refused, result.step);
  } catch (error) {
    throw error instanceof KernelTrouble ? new CutError(error.message) : error;
  }
}
