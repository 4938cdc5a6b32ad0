import type { MadeReport } from './made-report';

/** How a derived file is made: the operation, and what was chosen for it. */
export interface Recipe {
  operation: string;
  /** Plain data, as the operation's own schema has it. */
  choices: unknown;
  /** What it turned out to be. */
  report?: MadeReport;
}

/** The operation that made a file out of its source, and can make it again. Files of earlier versions name it as the relation. */
export function madeBy({ relation, recipe }: SourceMemory): string {
  return recipe?.operation ?? relation;
}

/** What a file remembers of where it came from, besides the path. */
export interface SourceMemory {
  /** How the file came out of its source, in a word: `split`. */
  relation: string;
  /** Hash of the source's bytes when it was taken; null when the file does not say. */
  sha256: string | null;
  /** The bodies of the source that the file stands for; none for a file that stands for all. */
  bodies: { id: number; name: string }[];
  recipe?: Recipe;
}

/** `sha256:9f0c...` */
export function digestIn(text: string): string | null {
  return /^sha256:([0-9a-f]{64})$/.exec(text)?.[1] ?? null;
}

/** `#1234 torque tube`; none for a body that is gone. */
export function bodyIn(text: string): { id: number; name: string }[] {
  const [, number, name] = /^#(\d+) ?(.*)$/s.exec(text) ?? [];
  return number ? [{ id: Number(number), name: name! }] : [];
}
