import type { CommandForm } from '#core/command/form';
import type { ArrangePreview, DissolveChoices, GroupChoices, MoveChoices, TakeAwayChoices } from './choices';

export const COMPONENT_FLAG = {
  flag: '--component <NAME...>',
  words: 'occurrences by name or number; the name or id of a component means all of its occurrences',
};

/** Each takes `--component NAME...`. */
export function occurrencesForm<Choices extends { occurrences: string[] }>(): CommandForm<
  Choices,
  ArrangePreview
> {
  return {
    ownFlags: ['occurrences'],
    flags: [COMPONENT_FLAG],
    choices: ({ component = [] }) => ({ occurrences: component as string[] }) as Partial<Choices>,
  };
}

export const MOVE_OCCURRENCES_FORM = occurrencesForm<MoveChoices>();
export const GROUP_OCCURRENCES_FORM = occurrencesForm<GroupChoices>();
export const DISSOLVE_FORM = occurrencesForm<DissolveChoices>();
export const TAKE_AWAY_FORM = occurrencesForm<TakeAwayChoices>();
