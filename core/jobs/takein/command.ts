import type { CommandForm } from '#core/command/form';
import type { TakeInChoices, TakeInPreview } from './operation';

/** `takein FILE [--component NAME...]`: each by its name, its id or its path; all of them unless some are named. */
export const TAKE_IN_FORM: CommandForm<TakeInChoices, TakeInPreview> = {
  ownFlags: ['components'],
  flags: [{ flag: '--component <NAME...>', words: 'the components, each by its name, its id or its path' }],
  choices: ({ component = null }) => ({ components: component as string[] | null }),
};
