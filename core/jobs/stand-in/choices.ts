import { z } from 'zod';

export const StandInChoices = z.object({
  file: z.string().min(1).describe('the file that assemblies place now'),
  /** Null for the only one there is. */
  instead: z.string().max(2000).nullable().default(null).describe('the file that takes its place'),
  /** Null for all. */
  in: z.string().max(2000).nullable().default(null).describe('the one assembly in which it does'),
});
export type StandInChoices = z.infer<typeof StandInChoices>;
