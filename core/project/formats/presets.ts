import { z } from 'zod';

/** Choices for an operation, under a name: what a project makes of its assemblies again and again. */
export const Preset = z
  .object({
    name: z.string().trim().min(1, 'Give the preset a name.').max(80).describe('What the preset is called.'),
    purpose: z.string().trim().max(300).default('').describe('What it is for.'),
    operation: z.string().min(1).max(40).describe('The operation that the choices are for.'),
    choices: z
      .record(z.string(), z.unknown())
      .describe('The choices; others are as they are without being said.'),
  })
  .describe('Choices for an operation, under a name.');
export type Preset = z.infer<typeof Preset>;
