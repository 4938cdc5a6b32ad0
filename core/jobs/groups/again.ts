import type { Derivation } from '#core/jobs/follow/derivation';
import { remakeFiles } from '#core/jobs/follow/remake-files';
import { GroupsChoices } from './choices';
import { planGroups } from './plan';

/** Moving groups: the recipe is run on the newest versions of everything they were made from. */
export const GROUPS_AGAIN: Derivation = {
  operation: 'groups',
  async remake(context, asked) {
    const making = { operation: 'groups', what: 'groups', choices: GroupsChoices, plan: planGroups };
    const count = await remakeFiles(context, asked, making);
    return { words: count === 0 ? null : `${count} with moving groups made again` };
  },
};
