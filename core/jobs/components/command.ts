import type { CommandForm } from '#core/command/form';
import { Refusal } from '#core/refusal';
import type { MadeComponent, MakeComponentsChoices } from './operation';

/** `make-components FILE [--product NAME] [--body N...]`. */
export const MAKE_COMPONENTS_FORM: CommandForm<MakeComponentsChoices, { components: MadeComponent[] }> = {
  ownFlags: ['bodies', 'names'],
  flags: [{ flag: '--body <N...>', words: 'only these bodies, by their numbers in the file' }],
  choices: ({ body }) => (body === undefined ? {} : { bodies: (body as string[]).map(numbered) }),
};

function numbered(text: string): number {
  const number = Number(text.replace(/^#/, ''));
  if (!Number.isInteger(number) || number < 1) throw new Refusal(`${text} is no number of a body.`);
  return number;
}
