import { baseName } from '#core/files/links/paths';
import { type OperationByName, remakeOutside } from '#core/jobs/follow/remake';
import type { Offer, Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import { MANIFEST_NAME, readManifest } from '#core/project/formats/manifest';
import { Refusal } from '#core/refusal';
import type { RenewCatalogueChoices } from './choices';
import { type OfferOutline, offerOf } from './offer';

/** What would be offered anew, and what could not be. */
export interface RenewCatalogueOutline {
  offers: (OfferOutline & {
    /** Whether the file is made again first. */
    isMadeAgain: boolean;
  })[];
  failed: { file: string; why: string }[];
}

/**
 * Plans to renew the catalogue: each file is made again by its recipe where what it was made from has changed, and is offered as it is then.
 * What cannot be is named, and the rest goes on.
 * @throws Refusal where nothing is left
 */
export async function planRenewCatalogue(
  context: PlanContext,
  { offers: asked }: RenewCatalogueChoices,
  operations: OperationByName,
): Promise<Planned<RenewCatalogueOutline>> {
  const { draft, project, signal } = context;
  const outline: RenewCatalogueOutline = { offers: [], failed: [] };
  const offers: Offer[] = [];
  for (const [n, choices] of asked.entries()) {
    signal.throwIfAborted();
    await context.progress(`Making ${baseName(choices.file)}`, n, asked.length);
    try {
      const made = draft.has(MANIFEST_NAME) ? readManifest(await draft.read(MANIFEST_NAME)).outside : [];
      const entry = made.find(({ file }) => file === choices.file);
      const isMadeAgain =
        entry?.sources.some(({ path, sha256 }) => {
          const now = project.files.get(path)?.sha256;
          return now !== undefined && now !== sha256;
        }) ?? false;
      const { outline: one, offer } = await draft.attempt(async () => {
        if (entry && isMadeAgain) await remakeOutside(context, entry, operations);
        return offerOf(context, choices);
      });
      outline.offers.push({ ...one, isMadeAgain });
      offers.push(offer);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      outline.failed.push({ file: choices.file, why: error.message });
      draft.warn(`${choices.file} is not renewed. ${error.message}`);
    }
  }
  if (offers.length === 0) throw new Refusal(outline.failed[0]!.why);
  const [first] = offers;
  const what = offers.length === 1 ? first!.path : `${offers.length} files`;
  return { change: await draft.finish(`Renewed ${what} in the catalogue`), preview: outline, offers };
}
