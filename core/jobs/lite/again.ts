import type { Derivation } from '#core/jobs/follow/derivation';
import { remakeFiles } from '#core/jobs/follow/remake-files';
import { LiteChoices } from './choices';
import { planLite } from './plan';

/** Lite models: the recipe is run on the newest versions of everything they were made from. */
export const LITE_AGAIN: Derivation = {
  operation: 'lite',
  async remake(context, asked) {
    const making = { operation: 'lite', what: 'lite model', choices: LiteChoices, plan: planLite };
    const count = await remakeFiles(context, asked, making);
    return { words: count === 0 ? null : `${count} lite ${count === 1 ? 'model' : 'models'} made again` };
  },
};
