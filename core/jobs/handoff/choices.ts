import { z } from 'zod';
import { MOST_CHOSEN } from '#core/misfit';

/** The engineer's choices for a package. */
export const HandOffChoices = z.object({
  /** The file that is handed over, with everything it needs. */
  root: z.string().min(1),
  also: z
    .array(z.string().min(1).max(4000))
    .max(MOST_CHOSEN)
    .default([])
    .describe('other files that go along, with everything that they need'),
  flatten: z.boolean().default(false).describe('all files in one folder'),
  prefix: z.string().max(60).default('').describe('put before every name'),
  suffix: z.string().max(60).default('').describe('put after every name'),
  drawings: z.boolean().default(false).describe('and the drawings that show one of the files'),
  sources: z.boolean().default(true).describe('leave out the files that others came out of'),
  attachments: z
    .boolean()
    .default(true)
    .describe('leave out data sheets and other papers that files point at'),
  allowBroken: z.boolean().default(false).describe('pack although links are broken'),
});
export type HandOffChoices = z.infer<typeof HandOffChoices>;

export const PackageChoices = HandOffChoices.omit({ root: true }).extend({
  file: z.string().min(1).describe('the file that is handed over, with everything it needs'),
});
export type PackageChoices = z.infer<typeof PackageChoices>;
