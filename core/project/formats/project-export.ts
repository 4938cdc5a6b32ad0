import { z } from 'zod';

/** What `project.json` of an exported project names itself. */
export const PROJECT_EXPORT = 'stonetray-export';

const Sha256 = z.string().regex(/^[0-9a-f]{64}$/);
const Time = z.iso.datetime();

const FileState = z.object({
  path: z.string(),
  sha256: Sha256.describe('In files/PATH where it is the state now, else in history/SHA256.'),
  bytes: z.number().int().nonnegative(),
  version: z.number().int().positive(),
  file: z.uuid().describe('The same for all versions of a file, wherever it lay.'),
});

/** A project with its history: everything but the contents, which lie beside it. */
export const ProjectExport = z.object({
  format: z.literal(PROJECT_EXPORT),
  version: z.literal(1),
  name: z.string(),
  description: z.string(),
  searchFolders: z.array(z.string()),
  exported: Time,
  members: z.array(
    z.object({ name: z.string(), email: z.string(), role: z.enum(['owner', 'editor', 'viewer']) }),
  ),
  files: z.array(FileState).describe('As they are now.'),
  versions: z.array(
    FileState.extend({
      who: z.string(),
      time: Time,
      note: z.string(),
      change: z.uuid().describe('The change that made it.'),
    }),
  ),
  changes: z.array(
    z.object({
      id: z.uuid(),
      who: z.string(),
      time: Time,
      summary: z.string(),
      changes: z.array(z.looseObject({ action: z.enum(['write', 'move', 'delete']), path: z.string() })),
      rewires: z.array(z.looseObject({})),
      warnings: z.array(z.unknown()),
      undoes: z.uuid().nullable().describe('The change that it took back.'),
    }),
  ),
  log: z.array(
    z.object({
      who: z.string(),
      time: Time,
      kind: z.string(),
      summary: z.string(),
      change: z.uuid().nullable(),
    }),
  ),
});
export type ProjectExport = z.infer<typeof ProjectExport>;

/** The published schema of `project.json`. */
export function projectExportSchema(): object {
  return z.toJSONSchema(ProjectExport);
}
