import { operation } from '#core/operation';
import { PublishChoices } from './choices';
import type { PublishOutline } from './plan';

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
