import type { OperationByName } from '#core/jobs/follow/remake';
import { operation } from '#core/operation';
import { PublishChoices, RenewCatalogueChoices } from './choices';
import type { OfferOutline } from './offer';
import type { RenewCatalogueOutline } from './renew';

/** Offers a file that was made for outside to whoever has an address. It changes no file of the project. */
export const PUBLISH = operation<PublishChoices, OfferOutline>({
  name: 'publish',
  title: 'Publish',
  pageTitle: 'Catalogue',
  purpose:
    'Offer a file that was made for outside to people without an account, in the formats that are chosen.',
  place: 'give',
  page: 'published',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', isForOutside: true },
  choices: PublishChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planPublish(context, choices),
  form: async () => (await import('./command')).PUBLISH_FORM,
});

/**
 * Offers files anew, each made again first where what it was made from has changed.
 * @param operations by the names that stand in recipes
 */
export function renewCatalogueBy(operations: OperationByName) {
  return operation<RenewCatalogueChoices, RenewCatalogueOutline>({
    name: 'renew-catalogue',
    title: 'Renew the catalogue',
    purpose: 'Offer files anew, made again from the newest versions of what they were made from.',
    place: 'give',
    page: 'published',
    role: 'editor',
    accepts: { what: 'project', isUnlisted: true },
    choices: RenewCatalogueChoices,
    cost: 'slow',
    plan: async (context, choices) =>
      (await import('./renew')).planRenewCatalogue(context, choices, operations),
    form: async () => (await import('./command')).RENEW_FORM,
  });
}
