import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import { StandInChoices } from './choices';
import type { StandInOutline } from './plan';

/** Lets a lite model take the place of its original in assemblies, and gives it back. */
export const STAND_IN = operation<StandInChoices, StandInOutline, unknown, Planning>({
  name: 'stand-in',
  title: 'Swap lite model and original',
  purpose: 'Let a lite model take the place of its original in assemblies, or give it back.',
  place: 'structure',
  page: 'stand-in',
  role: 'editor',
  accepts: { what: 'lighter', parameter: 'file' },
  choices: StandInChoices,
  cost: 'quick',
  plan: async (context, choices) => (await import('./plan')).planStandIn(context, choices),
});
