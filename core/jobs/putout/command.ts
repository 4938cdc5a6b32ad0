import type { CommandForm } from '#core/command/form';
import type { PutOutChoices, PutOutFile } from './operation';

/** `putout FILE --component NAME...`: each by its name, its id or its number. */
export const PUT_OUT_FORM: CommandForm<PutOutChoices, { components: PutOutFile[] }> = {
  ownFlags: ['components', 'names'],
  flags: [{ flag: '--component <NAME...>', words: 'the components, each by its name, its id or its number' }],
  choices: ({ component = [] }) => ({ components: component as string[] }),
};
