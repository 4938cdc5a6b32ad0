import { z } from 'zod';

const Count = z.number().int().nonnegative();
const Amounts = z.object({ occurrences: Count, bodies: Count, faces: Count });

/** What a file turned out to be when it was made lighter than its original: it stands beside the recipe. */
export const MadeReport = z
  .object({
    before: Amounts,
    after: Amounts,
    boxOff: z.number().describe('How far the sides of its box are from those of the original at most, mm.'),
    kept: z
      .object({ faces: Count, identical: Count })
      .describe('Faces that were to stay, and those of them that are identical.'),
    deviation: z
      .number()
      .describe('How far what is reached from outside lies at most from what is left, mm.'),
    leaks: z.array(z.string().max(100)).max(50).describe('What can still be told from it, by kind.'),
    solid: z
      .object({
        way: z.enum(['exact', 'facets', 'envelope']),
        isProved: z.boolean().describe('One valid, closed solid with one shell.'),
        filled: z.number().describe('Smallest filled part of three sections.'),
      })
      .optional()
      .describe('Of a sealed solid only.'),
  })
  .describe('What it turned out to be, held against its original.');
export type MadeReport = z.infer<typeof MadeReport>;
