import { z } from 'zod';
import { MOST_CHOSEN } from '#core/misfit';

const source = z.string().min(1).describe('the file that others came out of');
const model = z.string().min(1).describe('the file that others came out of, or are attached to');

export const FollowChoices = z.object({
  source,
  removeGone: z.boolean().default(true).describe('bodies that the source no longer has stay in the assembly'),
  take: z
    .array(z.string())
    .max(MOST_CHOSEN)
    .default([])
    .describe('files that are taken from the source although they have changes of their own'),
});
export type FollowChoices = z.infer<typeof FollowChoices>;

export const DetachChoices = z.object({
  source: model,
  files: z
    .array(z.string())
    .max(MOST_CHOSEN)
    .nullable()
    .default(null)
    .describe('only these files; all that came out of it, or are attached to it, unless it is said'),
});
export type DetachChoices = z.infer<typeof DetachChoices>;
