import { pathInFolder } from '#core/command/folder-path';
import type { CommandForm } from '#core/command/form';
import type { RemoveChoices } from './operation';

/** `rm DIR PATH...`: paths in DIR. */
export const REMOVE_FORM: CommandForm<RemoveChoices, unknown> = {
  arguments: '<PATH...>',
  ownFlags: ['paths'],
  choices: (_, __, ___, [paths]) => ({
    paths: (paths as string[]).map(pathInFolder),
  }),
};
