import { z } from 'zod';
import { MOST_CHOSEN } from '#core/misfit';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';

const path = z.string().min(1).max(4000);
/** As long as systems take them. */
const designation = z.string().trim().min(1).max(200);

export const RenameChoices = z.object({
  file: path.describe('the part, or the assembly in which parts are renamed'),
  parts: z
    .array(
      z.object({
        /** In which file the part is named; the one above unless it is said. */
        file: path.optional(),
        /** By its name, its id or the number of its PRODUCT_DEFINITION; what the file is about unless it is said. */
        part: z.string().min(1).max(1000).optional(),
        id: designation.optional(),
        name: designation.optional(),
      }),
    )
    .min(1)
    .max(MOST_CHOSEN)
    .describe('the parts, each with its new id, its new name, or both'),
  files: z.boolean().default(false).describe('the files of the parts are named after them'),
});
export type RenameChoices = z.infer<typeof RenameChoices>;

/** A part that is called something else from now on. */
export interface RenamedPart {
  file: string;
  definition: number;
  was: { id: string; name: string };
  now: { id: string; name: string };
  /** The file's new path, where it gets another. */
  to: string | null;
  /** Stand-ins in other files that follow. */
  standIns: number;
}

/** Parts get other ids and names; what stands for them in other files follows. */
export const RENAME = operation<RenameChoices, { parts: RenamedPart[] }, unknown, Planning>({
  name: 'rename-parts',
  command: 'rename',
  title: 'Rename parts',
  purpose: 'Give parts other ids and names, apart from their files or with them; every assembly follows.',
  place: 'structure',
  page: 'rename',
  pageTitle: 'Rename',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['part', 'assembly'] },
  choices: RenameChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planRename(context, choices),
  form: async () => (await import('./command')).RENAME_FORM,
});
