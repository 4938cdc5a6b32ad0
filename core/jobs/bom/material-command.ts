import { pathInFolder } from '#core/command/folder-path';
import type { CommandForm } from '#core/command/form';
import type { MaterialChoices } from './material-operation';

/** `material DIR FILE... --material NAME`: paths in DIR. */
export const MATERIAL_FORM: CommandForm<MaterialChoices, unknown> = {
  arguments: '<FILE...>',
  ownFlags: ['parts'],
  flags: [{ flag: '--product <ID>', words: 'only this part of the files, by its id or name' }],
  choices: ({ product }, _, __, [files]) => ({
    parts: (files as string[]).map((file) => ({
      file: pathInFolder(file),
      product: product ?? null,
    })),
  }),
};
