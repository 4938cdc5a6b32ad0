import type { Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import type { PublishChoices } from './choices';
import { type OfferOutline, offerOf } from './offer';

/**
 * Plans to offer a file.
 * @throws Refusal for a file that was not made for outside, has no shape, or whose shapes are still being prepared
 */
export async function planPublish(
  context: PlanContext,
  choices: PublishChoices,
): Promise<Planned<OfferOutline>> {
  const { outline, offer } = await offerOf(context, choices);
  return {
    change: await context.draft.finish(`Published ${choices.file} in the catalogue`),
    preview: outline,
    offers: [offer],
  };
}
