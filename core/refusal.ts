/**
 * Something that cannot be done, in words for the person who asked: what is wrong, where, and what to do. Every other error is
 * a defect of ours, and its words are for the log.
 */
export class Refusal extends Error {}

/** The words of a refusal; undefined for any other error. */
export function refusalOf(error: unknown): string | undefined {
  return error instanceof Refusal ? error.message : undefined;
}
