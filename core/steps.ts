/**
 * Work that can be put down between its steps: it yields wherever others may have their turn. Whoever has nobody to wait for runs it
 * at once; a server lets other requests in between.
 */
export type Steps<Result> = Generator<void, Result, void>;

/** Runs all steps one after the other. @example atOnce(structureSteps(project, 'unit.stp', true)).rows */
export function atOnce<Result>(steps: Steps<Result>): Result {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}
