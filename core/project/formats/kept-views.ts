import { z } from 'zod';

const Written = z.string().max(200).nullable();

/** How an assembly is looked at, under a name. */
export const KeptView = z
  .object({
    name: z.string().trim().min(1, 'Give the view a name.').max(80).describe('What the view is called.'),
    root: z.string().min(1).max(2000).describe('Path of the assembly, as seen from the manifest.'),
    single: z.boolean().default(false).describe('Whether alike placings stand one by one.'),
    hidden: z
      .array(z.string().max(4000))
      .max(5000)
      .default([])
      .describe('What is hidden: names from the top down, a number behind those that siblings share.'),
    section: Written.default(null).describe(
      'Where it is cut open: `-y:12.5` across an axis, `0.6,0.8,0:40` along a face; mm.',
    ),
    colours: Written.default(null).describe('What components are coloured by.'),
    eye: Written.default(null).describe('Where one looks from and what at: six numbers, mm.'),
  })
  .describe('How an assembly is looked at.');
export type KeptView = z.infer<typeof KeptView>;
