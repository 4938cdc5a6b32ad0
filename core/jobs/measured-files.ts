import { plural } from '#core/command/words';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { Refusal } from '#core/refusal';
import type { LookContext } from '#core/report';

/** Bodies of files by their numbers, as far as they were measured. */
export interface MeasuredFiles {
  measured: ReadonlyMap<string, ReadonlyMap<number, MeasuredBody>>;
  /** Files that are not measured yet. */
  waiting: number;
}

export const NOTHING_MEASURED: MeasuredFiles = { measured: new Map(), waiting: 0 };

/**
 * What is known of the bodies of files; what cannot be had yet is left out, and the rest goes on.
 * @param paths of files that have bodies
 */
export async function measuredFiles(
  { measured: measure, progress, signal }: Pick<LookContext, 'measured' | 'progress' | 'signal'>,
  paths: readonly string[],
): Promise<MeasuredFiles> {
  const measured = new Map<string, ReadonlyMap<number, MeasuredBody>>();
  for (const [n, path] of paths.entries()) {
    await progress(`Measuring ${path}`, n, paths.length);
    signal.throwIfAborted();
    try {
      measured.set(path, await measure(path));
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
    }
  }
  return { measured, waiting: paths.length - measured.size };
}

/** @example notMeasured(2) // '2 files are not measured yet' */
export function notMeasured(waiting: number): string {
  return `${plural(waiting, 'file is', 'files are')} not measured yet`;
}
