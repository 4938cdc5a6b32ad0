import { type Command, InvalidArgumentError, Option } from 'commander';
import { z } from 'zod';
import type { Flag } from '#core/command/form';
import { Refusal } from '#core/refusal';

/** A choice as JSON Schema describes it. */
interface Described {
  type?: string | string[];
  enum?: string[];
  default?: unknown;
  description?: string;
  anyOf?: Described[];
  items?: Described;
  minimum?: number;
  maximum?: number;
}

/**
 * Gives a command a flag for every choice of an operation that a flag can hold: a switch for what is true or false, a value for
 * words and numbers, several for a list. Choices of other forms are left to `--choices FILE`.
 * @param but names of choices that have another way into the command
 * @returns the names of the choices that have a flag now
 */
export function addFlags(command: Command, schema: z.ZodType, but: readonly string[]): string[] {
  const { properties = {} } = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as {
    properties?: { [name: string]: Described };
  };
  return Object.entries(properties).flatMap(([name, choice]) => {
    const option = but.includes(name) ? undefined : flagFor(name, choice);
    if (option) command.addOption(option);
    return option ? [name] : [];
  });
}

function flagFor(name: string, choice: Described): Option | undefined {
  const given = choice.anyOf?.find(({ type }) => type !== 'null') ?? choice;
  const words = choice.description ?? given.description ?? '';
  const flag = name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);
  if (given.enum) return new Option(`--${flag} <choice>`, words).choices(given.enum);
  switch (given.type) {
    case 'boolean':
      return new Option(choice.default === true ? `--no-${flag}` : `--${flag}`, words);
    case 'string':
      return new Option(`--${flag} <text>`, words);
    case 'number':
    case 'integer':
      return new Option(`--${flag} <number>`, words).argParser((text) => numberIn(text, given));
    case 'array':
      return given.items?.type === 'string' ? new Option(`--${flag} <text...>`, words) : undefined;
    default:
      return undefined;
  }
}

function numberIn(text: string, { minimum = -Infinity, maximum = Infinity, type }: Described): number {
  const value = Number(text);
  const isRight =
    text.trim() !== '' &&
    value >= minimum &&
    value <= maximum &&
    (type !== 'integer' || Number.isInteger(value));
  if (isRight) return value;
  throw new InvalidArgumentError(
    `It is ${type === 'integer' ? 'a whole number' : 'a number'}${minimum > -Infinity || maximum < Infinity ? ` from ${minimum} to ${maximum}` : ''}.`,
  );
}

/**
 * What was given on the command line, as choices: only what was said outright, the rest has its defaults.
 * @param names of the choices that have a flag; another flag may have the name of a choice and mean something else
 */
export function choicesFrom(command: Command, names: readonly string[]): { [name: string]: unknown } {
  const given = command.opts();
  return Object.fromEntries(
    names.flatMap((name) => (command.getOptionValueSource(name) === 'cli' ? [[name, given[name]]] : [])),
  );
}

/** Choices from a file of JSON. @throws Refusal when it is none */
export function choicesIn(text: string, file: string): { [name: string]: unknown } {
  try {
    return z.record(z.string(), z.unknown()).parse(JSON.parse(text));
  } catch {
    throw new Refusal(`${file} holds no choices: it is a JSON object with a value for each.`);
  }
}

/** A flag that a form describes. */
export function ownFlag({ flag, words, isRequired, oneOf, read }: Flag): Option {
  const option = new Option(flag, words).makeOptionMandatory(isRequired === true);
  if (oneOf) option.choices(oneOf);
  if (read)
    option.argParser((text) => {
      try {
        return read(text);
      } catch (error) {
        if (error instanceof Refusal) throw new InvalidArgumentError(error.message);
        throw error;
      }
    });
  return option;
}

/** "Point broken links at the right files." as commands describe themselves. */
export function inCommandWords(purpose: string): string {
  return `${purpose[0]!.toLowerCase()}${purpose.slice(1).replace(/\.$/, '')}`;
}
