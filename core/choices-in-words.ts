import type { z } from 'zod';
import { fieldOf, isUsual } from './choices';

/** One choice that was made otherwise than it is without being said. */
export interface ChoiceInWords {
  name: string;
  /** What it means, where its schema says so. */
  meaning: string;
  /** What was chosen; empty where choosing it at all says everything. */
  value: string;
}

/** Longer values are cut: they are there to be recognised. */
const LONGEST = 300;

/** Choices as people read them. @param schema an object schema, whose descriptions are those of the command-line flags */
export function choicesInWords(schema: z.ZodType, choices: object): ChoiceInWords[] {
  return Object.entries(choices).flatMap(([name, value]) => {
    if (isUsual(schema, name, value)) return [];
    const meaning = fieldOf(schema, name)?.description ?? '';
    return [{ name, meaning, value: typeof value === 'boolean' ? '' : inWords(value) }];
  });
}

function inWords(value: unknown): string {
  const words =
    Array.isArray(value) && value.every((item) => typeof item !== 'object')
      ? value.join(', ')
      : typeof value === 'object'
        ? JSON.stringify(value)
        : String(value);
  return words.length > LONGEST ? `${words.slice(0, LONGEST)}…` : words;
}
