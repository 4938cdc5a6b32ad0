import { baseName } from '#core/files/links/paths';
import { groupBy } from '#core/multimap';
import { operation, type Planned } from '#core/operation';
import { madeBy } from '#core/project/formats/source-memory';
import { Refusal } from '#core/refusal';
import { DetachChoices, FollowChoices } from './choices';
import type { Derivation } from './derivation';
import { planDetach } from './detach';
import type { FollowOutline } from './outline';

/**
 * Brings the files of a source up to its newest version, whatever made them: each recipe is run again.
 * @param derivations how, by the operation that stands in a recipe
 */
export function followBy(derivations: readonly Derivation[]) {
  return operation({
    name: 'follow',
    title: 'Bring up to date',
    purpose: 'Bring the files that came out of a source up to its newest version.',
    place: 'links',
    page: 'sources',
    pageTitle: 'Behind',
    role: 'editor',
    accepts: { what: 'source', parameter: 'source' },
    choices: FollowChoices,
    cost: 'slow',
    async plan(context, { source, removeGone, take }): Promise<Planned<FollowOutline | null>> {
      const { project, draft } = context;
      if (!project.files.has(source)) throw new Refusal(`There is no file ${source} any more.`);
      const derived = (project.usedBy.get(source) ?? []).filter(({ source: memory }) => memory);
      if (derived.length === 0) throw new Refusal(`No file of this project came out of ${source}.`);
      let outline: FollowOutline | undefined;
      const done: string[] = [];
      for (const [made, links] of groupBy(derived, (link) => madeBy(link.source!))) {
        const derivation = derivations.find((candidate) => candidate.operation === made);
        if (!derivation) {
          for (const { holder, state } of links)
            if (state === 'behind')
              draft.warn(
                `${holder} was made by “${made}”, which cannot be done again here. It stays as it is.`,
              );
          continue;
        }
        const remade = await derivation.remake(context, {
          source,
          links,
          removeGone,
          take,
        });
        outline = remade.outline ?? outline;
        if (remade.words !== null) done.push(remade.words);
      }
      const change = await draft.finish(
        done.length > 0
          ? `Followed ${baseName(source)}: ${done.join('; ')}`
          : 'Every file is at the newest version of its source',
      );
      return { change, preview: outline ?? null };
    },
  });
}

/** Detaches files from their source. */
export const DETACH = operation({
  name: 'detach',
  title: 'Detach from the source',
  purpose: 'Let files that came out of a source no longer follow it.',
  place: 'links',
  page: 'sources',
  role: 'editor',
  accepts: { what: 'source', parameter: 'source' },
  choices: DetachChoices,
  cost: 'quick',
  async plan(context, choices): Promise<Planned<null>> {
    return { change: await planDetach(context, choices), preview: null };
  },
});
