import type { CommandForm } from '#core/command/form';
import type { ArrangePreview, DissolveChoices, GroupChoices, MoveChoices, TakeAwayChoices } from './choices';

const FLAGS = [
  {
    flag: '--component <NAME...>',
    words: 'occurrences by name or number; the name or id of a component means all of its occurrences',
  },
];
/** Each takes `--component NAME...`. */
function form<Choices extends { occurrences: string[] }>(): CommandForm<Choices, ArrangePreview> {
  return {
    ownFlags: ['occurrences'],
    flags: FLAGS,
    choices: ({ component = [] }) => ({ occurrences: component as string[] }) as Partial<Choices>,
  };
}

export const MOVE_OCCURRENCES_FORM = form<MoveChoices>();
export const GROUP_OCCURRENCES_FORM = form<GroupChoices>();
export const DISSOLVE_FORM = form<DissolveChoices>();
export const TAKE_AWAY_FORM = form<TakeAwayChoices>();
