import { operation } from '#core/operation';
import { SplitFileChoices } from './choices';
import type { SplitOutline } from './plan';
import type { SplitOutlineView } from './view';

/** Takes a part of many bodies apart. */
export const SPLIT = operation<SplitFileChoices, SplitOutline, SplitOutlineView>({
  name: 'split',
  title: 'Split',
  purpose: 'Make component files and an assembly out of a part of many bodies.',
  place: 'make',
  page: 'split',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['part', 'assembly'], bodies: 2 },
  choices: SplitFileChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan-file')).planSplitOf(context, choices),
  view: async (outline, { project }) => (await import('./view')).outlineView(project, outline),
  form: async () => (await import('./command')).SPLIT_FORM,
  madeAgain: {
    remake: async (context, asked) =>
      (await import('#core/jobs/split/newer/plan')).remakeSplit(context, asked),
  },
});
