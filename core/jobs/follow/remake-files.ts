import type { z } from 'zod';
import { groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import { Refusal } from '#core/refusal';
import type { Remaking } from './derivation';

/** How a file is made from its original. */
interface Making<Choices> {
  operation: string;
  /** What it is, for words: `lite model`. */
  what: string;
  choices: z.ZodType<Choices>;
  plan(context: PlanContext, original: string, choices: Choices, again: string): Promise<unknown>;
}

/**
 * Makes every file that is behind again, by the recipe in its tie to its original, from the newest versions of everything it was made from.
 * @returns how many there were
 * @throws Refusal for a file without a recipe that can be read, and for an original that is not there
 */
export async function remakeFiles<Choices>(
  context: PlanContext,
  { links }: Remaking,
  { operation, what, choices, plan }: Making<Choices>,
): Promise<number> {
  const behind = groupBy(
    links.filter(({ state }) => state === 'behind'),
    ({ holder }) => holder,
  );
  for (const file of behind.keys()) {
    const ties = context.project.uses.get(file) ?? [];
    const tie = ties.find(({ kind, source }) => kind === 'source' && source?.recipe?.operation === operation);
    if (!tie?.source?.recipe)
      throw new Refusal(`${file} does not say how it was made. Make the ${what} anew.`);
    if (tie.to === null)
      throw new Refusal(`${file} was made from ${tie.written}, which is not there. Repair that link first.`);
    const read = choices.safeParse(tie.source.recipe.choices);
    if (!read.success) throw new Refusal(`The recipe in ${file} cannot be read. Make the ${what} anew.`);
    await plan(context, tie.to, read.data, file);
  }
  return behind.size;
}
