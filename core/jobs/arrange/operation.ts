import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import { type ArrangePreview, DissolveChoices, GroupChoices, MoveChoices, TakeAwayChoices } from './choices';

/** Move components to another assembly of the file; each keeps its place in space. */
export const MOVE_OCCURRENCES = operation<MoveChoices, ArrangePreview, unknown, Planning>({
  name: 'move-occurrences',
  command: 'move-occurrence',
  title: 'Move to another assembly',
  purpose: 'Move components to another assembly of the file; each keeps its place in space.',
  place: 'structure',
  page: 'arrange',
  pageTitle: 'Arrange',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: MoveChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planMove(context, choices),
  form: async () => (await import('./command')).MOVE_OCCURRENCES_FORM,
});

/** Make components of one assembly an assembly of their own within it. */
export const GROUP_OCCURRENCES = operation<GroupChoices, ArrangePreview, unknown, Planning>({
  name: 'group-occurrences',
  command: 'group',
  title: 'Group into an assembly',
  purpose: 'Make components of one assembly an assembly of their own within it.',
  place: 'structure',
  page: 'arrange',
  pageTitle: 'Arrange',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: GroupChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planGroup(context, choices),
  form: async () => (await import('./command')).GROUP_OCCURRENCES_FORM,
});

/** Let what an assembly places stand in the one above it, and the assembly go. */
export const DISSOLVE = operation<DissolveChoices, ArrangePreview, unknown, Planning>({
  name: 'dissolve',
  command: 'dissolve',
  title: 'Dissolve an assembly',
  purpose: 'Let what an assembly places stand in the one above it, and the assembly go.',
  place: 'structure',
  page: 'arrange',
  pageTitle: 'Arrange',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: DissolveChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planDissolve(context, choices),
  form: async () => (await import('./command')).DISSOLVE_FORM,
});

/** Remove components from their assembly; their files stay. */
export const TAKE_AWAY = operation<TakeAwayChoices, ArrangePreview, unknown, Planning>({
  name: 'take-away',
  command: 'remove',
  title: 'Remove from the assembly',
  purpose: 'Remove components from their assembly; their files stay.',
  place: 'structure',
  page: 'arrange',
  pageTitle: 'Arrange',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: TakeAwayChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planTakeAway(context, choices),
  form: async () => (await import('./command')).TAKE_AWAY_FORM,
});
