import { z } from 'zod';
import { pathProblem } from '#core/files/links/paths';

/*
 * What a change did, as it is on record: in a folder, and in an exported project. It may have come from anybody, and is checked before it
 * is believed.
 */

/** A name of a content: nothing else is ever joined to a path. */
export const Hash = z.string().regex(/^[0-9a-f]{64}$/);

export const FilePath = z.string().refine((path) => pathProblem(path) === undefined);

/** Contents lie elsewhere, by their hash. */
const Content = {
  sha256: Hash,
  bytes: z.number().int().nonnegative(),
  content: z.null().default(null),
};

export const RecordedFileChange = z.discriminatedUnion('action', [
  z.object({ action: z.literal('write'), path: FilePath, base: Hash.nullable(), ...Content }),
  z.object({
    action: z.literal('move'),
    path: FilePath,
    to: FilePath,
    base: Hash,
    written: z.object(Content).optional(),
  }),
  z.object({ action: z.literal('delete'), path: FilePath, base: Hash }),
]);

export const RecordedRewire = z.object({
  holder: z.string(),
  written: z.string(),
  rewritten: z.string(),
  to: z.string().nullable(),
  was: z.string().nullable().default(null),
});
