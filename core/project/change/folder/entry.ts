import { z } from 'zod';
import type { ChangeSet } from '../change-set';
import { FilePath, RecordedFileChange, RecordedRewire } from '../recorded-change';

/** `2026-11-27T16-52-27-000Z-0a1b2c3d` */
export const EntryId = z.string().regex(/^[0-9TZ-]{20,30}-[0-9a-f]{8}$/);
/** A file beside its place, under a name of ours. */
export const StagedName = z.string().regex(/^\.stonetray-[0-9a-f-]{36}$/);

/** A ChangeSet as a folder records it: its contents lie in `kept`, by hash. It may have come with the folder from anybody. */
export const Entry = z.object({
  id: EntryId,
  time: z.iso.datetime(),
  summary: z.string().max(10_000),
  changes: z.array(RecordedFileChange),
  rewires: z.array(RecordedRewire),
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
