import { z } from 'zod';
import { MOST_CHOSEN } from '#core/misfit';

export const assemblyFile = z.string().min(1).max(4000).describe('the assembly file');
export const chosenOccurrences = z
  .array(z.string().min(1).max(1000))
  .min(1)
  .max(MOST_CHOSEN)
  .describe(
    'occurrences in the file, each by its number or its name; the name or id of a component means all its occurrences',
  );

export const MoveChoices = z.object({
  file: assemblyFile,
  occurrences: chosenOccurrences,
  into: z.string().min(1).max(1000).describe('the assembly in the file, by its name, its id or its number'),
});
export type MoveChoices = z.infer<typeof MoveChoices>;

export const GroupChoices = z.object({
  file: assemblyFile,
  occurrences: chosenOccurrences,
  name: z.string().min(1).max(200).describe('what the new assembly is called'),
  ownFile: z.boolean().default(false).describe('the new assembly is a file of its own, beside this one'),
});
export type GroupChoices = z.infer<typeof GroupChoices>;

export const DissolveChoices = z.object({ file: assemblyFile, occurrences: chosenOccurrences });
export type DissolveChoices = z.infer<typeof DissolveChoices>;

export const TakeAwayChoices = z.object({ file: assemblyFile, occurrences: chosenOccurrences });
export type TakeAwayChoices = z.infer<typeof TakeAwayChoices>;

/** What comes of it. */
export interface ArrangePreview {
  /** Occurrences that are touched, by their names. */
  occurrences: string[];
  /** Components that are in the file no longer, since nothing places them. */
  gone: string[];
  /** A file that is made. */
  made?: string;
}
