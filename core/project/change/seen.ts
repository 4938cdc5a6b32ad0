import { z } from 'zod';
import { ConflictError } from './change-set';

/** What the mark of a file begins with that counts by the links that follow a move. */
export const LINKS = 'links ';

/** A file as a plan found it: the hash of its bytes, or of the links that it sets anew; null where there was none. */
export const SeenVersion = z.object({ path: z.string(), base: z.string().nullable() });
export type SeenVersion = z.infer<typeof SeenVersion>;

/**
 * What was seen is what is applied: a plan that is made again has to rest on the very files that the person was shown.
 * @throws ConflictError naming each file that makes the difference
 */
export function checkSeen(shown: readonly SeenVersion[], now: readonly SeenVersion[]): void {
  const before = new Map(shown.map(({ path, base }) => [path, base]));
  const conflicts = now.flatMap(({ path, base }) => {
    if (!before.has(path)) return [{ path, problem: 'comes in by now and was not shown' }];
    const was = before.get(path)!;
    if (was === base) return [];
    return [{ path, problem: base === null ? 'is no longer there' : 'has changed since' }];
  });
  const after = new Set(now.map(({ path }) => path));
  for (const { path } of shown)
    if (!after.has(path)) conflicts.push({ path, problem: 'was shown and is not concerned any more' });
  if (conflicts.length > 0) throw new ConflictError(conflicts);
}

/**
 * Where a plan cannot be made again: that may be since its files are not what they were.
 * @param hashOf the file at a path by now; undefined where there is none
 * @throws ConflictError naming each file that has changed
 */
export function checkUnchanged(
  shown: readonly SeenVersion[],
  hashOf: (path: string) => string | undefined,
): void {
  const conflicts = shown.flatMap(({ path, base }) => {
    const now = hashOf(path);
    if (base === null ? now === undefined : base.startsWith(LINKS) || now === base) return [];
    return [
      {
        path,
        problem:
          base === null ? 'is there by now' : now === undefined ? 'is no longer there' : 'has changed since',
      },
    ];
  });
  if (conflicts.length > 0) throw new ConflictError(conflicts);
}
