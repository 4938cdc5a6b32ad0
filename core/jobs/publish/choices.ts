import { z } from 'zod';

export const PublishChoices = z.object({
  file: z.string().min(1).max(4000).describe('the file that is offered'),
  title: z
    .string()
    .trim()
    .min(1, 'Give it a title.')
    .max(120)
    .nullable()
    .default(null)
    .describe('what it is called; its file name unless it is said'),
});
export type PublishChoices = z.infer<typeof PublishChoices>;
