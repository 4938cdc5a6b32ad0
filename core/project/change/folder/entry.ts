import { z } from 'zod';
import { pathProblem } from '#core/files/links/paths';
import type { ChangeSet } from '../change-set';

/** A name of a content: nothing else is ever joined to a path. */
export const Hash = z.string().regex(/^[0-9a-f]{64}$/);
/** `2026-11-27T16-52-27-000Z-0a1b2c3d` */
export const EntryId = z.string().regex(/^[0-9TZ-]{20,30}-[0-9a-f]{8}$/);
/** A file beside its place, under a name of ours. */
export const StagedName = z.string().regex(/^\.stonetray-[0-9a-f-]{36}$/);

const FilePath = z.string().refine((path) => pathProblem(path) === undefined);
const Content = { sha256: Hash, bytes: z.number().int().nonnegative(), content: z.null() };

const Change = z.discriminatedUnion('action', [
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

const Rewire = z.object({
  holder: z.string(),
  written: z.string(),
  rewritten: z.string(),
  to: z.string().nullable(),
  was: z.string().nullable().default(null),
});

/** A ChangeSet as a folder records it: its contents lie in `kept`, by hash. It may have come with the folder from anybody. */
export const Entry = z.object({
  id: EntryId,
  time: z.iso.datetime(),
  summary: z.string().max(10_000),
  changes: z.array(Change),
  rewires: z.array(Rewire),
  warnings: z.array(z.string()),
  made: z.object({ operation: z.string(), choices: z.unknown() }).optional(),
  undoes: z.string().optional(),
});
export interface Entry extends ChangeSet {
  id: string;
  time: string;
}

/** A change that is being carried out, or taken back because it could not be. */
export const Journal = Entry.extend({
  direction: z.enum(['forward', 'back']).default('forward'),
  /** New contents beside their places, by path. */
  staged: z.record(z.string(), StagedName).default({}),
});
export interface Journal extends Entry, Pick<z.infer<typeof Journal>, 'direction' | 'staged'> {}

/** Folders that contents are written beside their places in. */
export const Folders = z.array(z.literal('').or(FilePath));
