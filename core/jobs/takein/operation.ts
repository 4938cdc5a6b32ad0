import { z } from 'zod';
import { MOST_CHOSEN } from '#core/misfit';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import type { StayingPart } from './parts';

export const TakeInChoices = z.object({
  file: z.string().min(1).max(4000).describe('the assembly file'),
  components: z
    .array(z.string().min(1).max(4000))
    .max(MOST_CHOSEN)
    .nullable()
    .default(null)
    .describe('the components, each by its name, its id or its path; all unless it is said'),
  deep: z.boolean().default(false).describe('also what their files refer to, to any depth'),
  dropUnused: z.boolean().default(false).describe('delete the files that nothing uses any more'),
});
export type TakeInChoices = z.infer<typeof TakeInChoices>;

/** What becomes part of an assembly file. */
export interface TakeInPreview {
  taken: { path: string; name: string; placings: number; bytes: number }[];
  /** Files that cannot be taken in. */
  staying: StayingPart[];
  /** Files that nothing uses any more. */
  unused: string[];
  /** Files that something else still uses. */
  used: { path: string; by: string[] }[];
}

/** Files of components become part of the file of their assembly; nothing moves. */
export const TAKE_IN = operation<TakeInChoices, TakeInPreview, unknown, Planning>({
  name: 'take-in',
  command: 'takein',
  title: 'Take components in',
  purpose: 'Make the files of components part of the file of their assembly, with all that is in them.',
  place: 'structure',
  page: 'take-in',
  pageTitle: 'Take in',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: TakeInChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planTakeIn(context, choices),
  form: async () => (await import('./command')).TAKE_IN_FORM,
});
