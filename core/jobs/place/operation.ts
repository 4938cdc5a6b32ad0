import type { ArrangePreview } from '#core/jobs/arrange/choices';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import {
  OwnCopyChoices,
  PlaceAgainChoices,
  PlaceChoices,
  ReplaceChoices,
  type ReplacePreview,
  SetPlacementChoices,
} from './choices';

/** Place a file of the project in an assembly. */
export const PLACE = operation<PlaceChoices, ArrangePreview, unknown, Planning>({
  name: 'place',
  title: 'Place a component',
  purpose:
    'Place a file of the project in an assembly: at its origin, at a position, or like another component.',
  place: 'structure',
  page: 'place',
  pageTitle: 'Place',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: PlaceChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planPlace(context, choices),
  form: async () => (await import('./command')).PLACE_FORM,
});

/** Place components again, in a row or in a circle. */
export const PLACE_AGAIN = operation<PlaceAgainChoices, ArrangePreview, unknown, Planning>({
  name: 'place-again',
  title: 'Place again in a row or circle',
  purpose: 'Place components of an assembly again, at even distances in a row or around an axis.',
  place: 'structure',
  page: 'place',
  pageTitle: 'Place',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: PlaceAgainChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planPlaceAgain(context, choices),
  form: async () => (await import('./command')).PLACE_AGAIN_FORM,
});

/** Set where components stand in their assembly. */
export const SET_PLACEMENT = operation<SetPlacementChoices, ArrangePreview, unknown, Planning>({
  name: 'set-placement',
  title: 'Set the placement',
  purpose: 'Type where a component stands in its assembly, or shift and turn several.',
  place: 'structure',
  page: 'place',
  pageTitle: 'Place',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: SetPlacementChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planSetPlacement(context, choices),
  form: async () => (await import('./command')).SET_PLACEMENT_FORM,
});

/** Let another file stand where a component stands. */
export const REPLACE = operation<ReplaceChoices, ReplacePreview>({
  name: 'replace',
  title: 'Replace a component',
  purpose: 'Let another file stand where a component stands, in chosen places or wherever it is placed.',
  place: 'structure',
  page: 'replace',
  pageTitle: 'Replace',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'], isUnlisted: true },
  choices: ReplaceChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./replace')).planReplace(context, choices),
  form: async () => (await import('./command')).REPLACE_FORM,
});

/** Give chosen places of a component a copy of its file. */
export const OWN_COPY = operation<OwnCopyChoices, ArrangePreview, unknown, Planning>({
  name: 'own-copy',
  title: 'Make a copy of its own',
  purpose: 'Give chosen places of a component a copy of its file, so that changing it leaves the others.',
  place: 'structure',
  page: 'arrange',
  pageTitle: 'Arrange',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: OwnCopyChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./own-copy')).planOwnCopy(context, choices),
  form: async () => (await import('./command')).OWN_COPY_FORM,
});
