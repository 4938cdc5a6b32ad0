import { pathInFolder } from '#core/command/folder-path';
import type { CommandForm } from '#core/command/form';
import type { AttachChoices } from './operation';

/** `attach DIR FILE... --to MODEL`: paths in DIR. */
export const ATTACH_FORM: CommandForm<AttachChoices, unknown> = {
  arguments: '<FILE...>',
  ownFlags: ['files', 'to'],
  flags: [{ flag: '--to <MODEL>', words: 'the model that they belong to', isRequired: true }],
  choices: ({ to }, _, __, [files]) => ({
    files: (files as string[]).map(pathInFolder),
    to: pathInFolder(to as string),
  }),
};
