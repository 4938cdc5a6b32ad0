import { pathInFolder } from '#core/command/folder-path';
import type { CommandForm } from '#core/command/form';
import type { AttachChoices } from './operation';

/** `attach DIR FILE... --model MODEL`: paths in DIR. */
export const ATTACH_FORM: CommandForm<AttachChoices, unknown> = {
  arguments: '<FILE...>',
  ownFlags: ['files', 'to'],
  flags: [{ flag: '--model <FILE>', words: 'the model that they belong to', isRequired: true }],
  choices: ({ model }, _, __, [files]) => ({
    files: (files as string[]).map(pathInFolder),
    to: pathInFolder(model as string),
  }),
};
