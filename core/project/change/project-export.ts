import { z } from 'zod';
import { PublishedFacts } from './published-facts';
import { FilePath, Hash, RecordedFileChange, RecordedRewire } from './recorded-change';

/** What `project.json` of an exported project names itself. */
export const PROJECT_EXPORT = 'stonetray-export';

/** No project has more of anything; what arrives is bounded before it is looked through. */
const MOST = 2_000_000;
const MOST_IN_ONE_CHANGE = 500_000;

const Time = z.iso.datetime();
const Bytes = z.number().int().nonnegative();
const Role = z.enum(['owner', 'editor', 'viewer']);

const Person = z.object({
  who: z.string().max(400).describe('Name of whoever did it.'),
  email: z
    .string()
    .max(320)
    .nullish()
    .describe('Address of whoever did it; left out or null where the person is gone.'),
});

const FileState = z.object({
  path: FilePath,
  sha256: Hash.describe('In files/PATH where it is the state now, else in history/SHA256.'),
  bytes: Bytes,
  version: z.number().int().positive(),
  file: z.uuid().describe('The same for all versions of a file, wherever it lay.'),
});

const Publication = Person.extend({
  token: z
    .string()
    .regex(/^[\w-]{16,64}$/)
    .describe('The end of its address.'),
  path: FilePath,
  sha256: Hash.describe('Of the file that is offered.'),
  title: z.string().max(400),
  facts: PublishedFacts.describe('What its page says of it.'),
  madeFrom: z
    .array(z.object({ path: FilePath, sha256: Hash }))
    .max(100_000)
    .nullish()
    .describe('What it was made from, by the versions that were taken.'),
  choices: z.record(z.string(), z.unknown()).nullish().describe('How it is offered.'),
  picture: Hash.nullable().describe('PNG, in publications/SHA256 like the files.'),
  time: Time,
  withdrawn: Time.nullable(),
  files: z
    .array(
      z.object({
        format: z.enum(['step', 'glb', '3mf', 'stl']),
        name: z.string().max(400),
        sha256: Hash,
        downloads: z.number().int().nonnegative(),
        offered: z.boolean().optional().describe('False where it was in this format, and is no longer.'),
      }),
    )
    .max(4),
});

/** A project with its history: everything but the contents, which lie beside it. */
export const ProjectExport = z.object({
  format: z.literal(PROJECT_EXPORT),
  version: z.union([z.literal(1), z.literal(2)]),
  name: z.string().max(400),
  description: z.string().max(100_000),
  searchFolders: z.array(z.string().max(4096)).max(1000),
  exported: Time,
  members: z
    .array(z.object({ name: z.string().max(400), email: z.string().max(320), role: Role }))
    .max(10_000),
  files: z.array(FileState).max(MOST).describe('As they are now.'),
  versions: z
    .array(
      FileState.extend(Person.shape).extend({
        time: Time,
        note: z.string(),
        change: z.uuid().describe('The change that made it.'),
      }),
    )
    .max(MOST),
  changes: z
    .array(
      Person.extend({
        id: z.uuid(),
        time: Time,
        summary: z.string(),
        changes: z.array(RecordedFileChange).max(MOST_IN_ONE_CHANGE),
        rewires: z.array(RecordedRewire).max(MOST_IN_ONE_CHANGE),
        warnings: z.array(z.string()).max(MOST_IN_ONE_CHANGE),
        made: z
          .object({ operation: z.string().max(40), choices: z.unknown() })
          .nullish()
          .describe('The operation that planned it, and what was chosen.'),
        undoes: z.uuid().nullable().describe('The change that it took back.'),
      }),
    )
    .max(MOST),
  log: z
    .array(
      Person.extend({
        time: Time,
        kind: z.string().max(40),
        summary: z.string(),
        change: z.uuid().nullable(),
      }),
    )
    .max(MOST),
  publications: z.array(Publication).max(10_000).default([]),
});
export type ProjectExport = z.infer<typeof ProjectExport>;

/** The published schema of `project.json`. */
export function projectExportSchema(): object {
  return z.toJSONSchema(ProjectExport, { io: 'input' });
}
