import type { FollowOutline } from '#core/jobs/split/newer/outline';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import { DetachChoices, FollowChoices } from './choices';
import type { OperationByName } from './remake';
import type { FollowPreview } from './view';

/**
 * Brings the files of a source up to its newest version, whatever made them: each recipe is run again.
 * @param operations by the names that stand in recipes
 */
export function followBy(operations: OperationByName) {
  return operation<FollowChoices, FollowOutline | null, FollowPreview>({
    name: 'follow',
    title: 'Bring up to date',
    purpose: 'Bring the files that came out of a source up to its newest version.',
    place: 'links',
    page: 'sources',
    pageTitle: 'Behind',
    role: 'editor',
    accepts: { what: 'source', parameter: 'source', isBehind: true },
    choices: FollowChoices,
    cost: 'slow',
    plan: async (context, choices) => (await import('./remake')).planFollow(context, choices, operations),
    view: async (outline, home) => (await import('./view')).followPreview(outline, home),
  });
}

/** Detaches files from their source, or from a model that the manifest attaches them to. */
export const DETACH = operation<DetachChoices, null, unknown, Planning>({
  name: 'detach',
  title: 'Detach from the source',
  purpose: 'Let files that came out of a source, or are attached to it, no longer belong to it.',
  place: 'links',
  page: 'sources',
  role: 'editor',
  accepts: { what: 'source', parameter: 'source' },
  choices: DetachChoices,
  cost: 'quick',
  async plan(context, choices) {
    const { planDetach } = await import('./detach');
    return { change: await planDetach(context, choices), preview: null };
  },
  form: async () => (await import('./command')).DETACH_FORM,
});
