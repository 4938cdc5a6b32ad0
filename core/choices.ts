import type { z } from 'zod';
import { firstMisfit } from './misfit';
import { Refusal } from './refusal';

/**
 * What was chosen, as its schema reads it.
 * @param name of what it is chosen for
 * @throws Refusal for what cannot be read, which names the first three choices that are wrong
 */
export function readChoices<Choices>(name: string, schema: z.ZodType<Choices>, asked: unknown): Choices {
  const misfit = firstMisfit(schema, asked);
  if (misfit) throw new Refusal(`The choices for ${name} cannot be read: ${wordsFor(misfit)}.`);
  const read = schema.safeParse(asked);
  if (read.success) return read.data;
  const wrong = read.error.issues.slice(0, 3).map(wordsFor);
  throw new Refusal(`The choices for ${name} cannot be read: ${wrong.join('; ')}.`);
}

const wordsFor = ({ path, message }: { path: PropertyKey[]; message: string }): string =>
  `${path.join('.') || 'all of them'}: ${message}`;

/**
 * Whether a choice is what it is without being said.
 * @example isUsual(schema, 'gap', null) // true where the schema's default is null
 */
export function isUsual(schema: z.ZodType, name: string, value: unknown): boolean {
  const usual = fieldOf(schema, name)?.safeParse(undefined);
  return usual?.success === true && JSON.stringify(usual.data) === JSON.stringify(value);
}

/** The choices of a schema that were made otherwise than they are without being said. */
export function unusualChoices(schema: z.ZodType, choices: object): { [name: string]: unknown } {
  return Object.fromEntries(
    Object.entries(choices).filter(
      ([name, value]) => fieldOf(schema, name) !== undefined && !isUsual(schema, name, value),
    ),
  );
}

/** One choice of an object schema. */
export function fieldOf(schema: z.ZodType, name: string): z.ZodType | undefined {
  return (schema as Partial<z.ZodObject>).shape?.[name] as z.ZodType | undefined;
}
