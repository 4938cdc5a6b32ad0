import type { Reader } from './useKept';

/** Reads what fits a test, whole. */
export function readerOf<State>(fits: (kept: unknown) => kept is State): Reader<State> {
  return {
    safeParse: (kept) => (fits(kept) ? { success: true, data: kept } : { success: false }),
  };
}

/** Whether something is an object all of whose values are of one kind. */
export function isRecordOf(kind: 'string' | 'boolean', value: unknown): boolean {
  return (
    typeof value === 'object' &&
    value !== null &&
    !Array.isArray(value) &&
    Object.values(value).every((own) => typeof own === kind)
  );
}
