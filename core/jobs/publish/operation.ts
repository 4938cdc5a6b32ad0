import { z } from 'zod';
import { operation } from '#core/operation';
import type { PublishOutline } from './plan';

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

/** Offers a file that was made for outside to whoever has an address. It changes no file of the project. */
export const PUBLISH = operation<PublishChoices, PublishOutline>({
  name: 'publish',
  title: 'Publish',
  pageTitle: 'Catalogue',
  purpose: 'Offer a file that was made for outside, in every format of the catalogue.',
  place: 'give',
  page: 'published',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', isForOutside: true },
  choices: PublishChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planPublish(context, choices),
  form: async () => (await import('./command')).PUBLISH_FORM,
});
