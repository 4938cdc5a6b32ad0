import { z } from 'zod';
import { unusualChoices } from '#core/choices';
import { RELATIVE_TOLERANCE } from '#core/geometry/shape/congruence/congruence';
import { MOST_CHOSEN } from '#core/misfit';
import { type Appearance, appearanceOf } from '#core/product/appearance';
import type { Recipe } from '#core/product/source/memory';
import type { Body } from '#core/product/structure';

/** Where the origin of a new part lies: where the source has it, or on the body. */
export const ORIGINS = ['source', 'centre', 'corner', 'centroid', 'axis'] as const;
export type Origin = (typeof ORIGINS)[number];

/** One product of a file, by its id or name; null for everything in the file. */
export const ProductOfFile = z
  .string()
  .max(1000)
  .nullable()
  .default(null)
  .describe('one product of the file, with all below it');

/** Everything that the engineer decides about a split. Bodies are named by the number of their entity. */
export const SplitChoices = z.object({
  /** The product that is split, with all below it. */
  product: ProductOfFile,
  /** The bodies to split off; null for all. */
  bodies: z.array(z.int()).max(MOST_CHOSEN).nullable().default(null),
  /** Open surfaces become files too. */
  surfaces: z.boolean().default(false).describe('open surfaces become files too'),
  /** Bodies of the same shape share one file. */
  merge: z.boolean().default(true).describe('one file a body, also for bodies of the same shape'),
  /** How far congruent bodies may differ, as a part of the body's diagonal. */
  tolerance: z
    .number()
    .min(1e-7)
    .max(0.01)
    .default(RELATIVE_TOLERANCE)
    .describe('how far bodies of one shape may differ, as a part of their diagonal'),
  /** The same shape in another colour gets a file of its own. */
  coloursApart: z
    .boolean()
    .default(false)
    .describe('the same shape in another colour gets a file of its own'),
  /** The same shape under another name gets a file of its own. */
  namesApart: z.boolean().default(false).describe('the same shape under another name gets a file of its own'),
  /** Colours, layers and other styles are carried over. */
  styles: z.boolean().default(true).describe('colours, layers and other styles are left behind'),
  /** Names typed by the engineer, by body. */
  names: z.record(z.string(), z.string().max(1000)).default({}),
  /** Other names for single bodies, for the components made of them and their places in the assembly. */
  bodyNames: z.record(z.string(), z.string().max(1000)).default({}),
  /** Other colours for single bodies, `#rrggbb`. */
  colours: z.record(z.string(), z.string().regex(/^#[0-9a-f]{6}$/)).default({}),
  /** What single bodies are made of. */
  materials: z.record(z.string(), z.string().trim().max(100)).default({}),
  /** Bodies that become one component together. */
  together: z.array(z.array(z.int()).min(2).max(MOST_CHOSEN)).max(MOST_CHOSEN).default([]),
  /** Where the other names come from. */
  naming: z.enum(['body', 'number']).default('body'),
  /** For bodies without a name, or for all: {source}, {number}, {body}, {size}, {material}. */
  pattern: z
    .string()
    .max(200)
    .default('{source}-{number}')
    .describe('names of bodies without one, of {source}, {number}, {body}, {size}, {material}'),
  /** Folder of the new files; null for one named after the source, beside it. */
  folder: z.string().max(500).nullable().default(null),
  origin: z.enum(ORIGINS).default('source'),
  /** What the parts are for the bill of materials. */
  use: z.enum(['made', 'bought', 'reference']).default('made'),
  /** What becomes of the source: it stays, it keeps only the other bodies, or the assembly takes its place. */
  rest: z.enum(['keep', 'remove', 'replace']).default('keep'),
  /** The new files remember which body of which source they came from. */
  tie: z.boolean().default(true).describe('the new files do not remember their source'),
  /** One assembly file with the parts inside it, in place of a file for each. */
  inFile: z.boolean().default(false).describe('one assembly file with the parts inside it'),
});
export type SplitChoices = z.infer<typeof SplitChoices>;

/** The name of a body, as it was chosen or as the source has it. */
export function nameOfBody({ bodyNames }: Pick<SplitChoices, 'bodyNames'>, body: Body): string {
  return bodyNames[String(body.id)]?.trim() || body.name;
}

/** How a body looks, as it was chosen or as the source has it. */
export function appearanceOfBody({ colours }: Pick<SplitChoices, 'colours'>, body: Body): Appearance {
  const colour = colours[String(body.id)];
  return colour ? { colour } : appearanceOf(body);
}

/** What a component is made of: the first of its bodies that says so counts. */
export function materialOf(
  { materials }: Pick<SplitChoices, 'materials'>,
  bodies: readonly Body[],
): string | null {
  return bodies.map(({ id }) => materials[String(id)]).find((name) => name) ?? null;
}

/** What of the choices still has a meaning for another version of the source: no bodies by their numbers, no paths. */
const IN_RECIPE = [
  'product',
  'surfaces',
  'merge',
  'tolerance',
  'coloursApart',
  'namesApart',
  'styles',
  'naming',
  'pattern',
  'origin',
  'use',
] as const satisfies readonly (keyof SplitChoices)[];

/** How the files of a split are made again. */
export function recipeOf(choices: SplitChoices): Recipe {
  const lasting = Object.fromEntries(IN_RECIPE.map((name) => [name, choices[name]]));
  return { operation: 'split', choices: unusualChoices(SplitChoices, lasting) };
}

/** The choices of a recipe; those that go without saying where there is none, or one that cannot be read. */
export function choicesOfRecipe(recipe: Recipe | undefined): SplitChoices {
  const read = SplitChoices.safeParse(recipe?.choices ?? {});
  return read.success ? read.data : splitChoices();
}

export function splitChoices(choices: z.input<typeof SplitChoices> = {}): SplitChoices {
  return SplitChoices.parse(choices);
}

export const SplitFileChoices = SplitChoices.extend({
  file: z.string().min(1).describe('the part of many bodies'),
});
export type SplitFileChoices = z.infer<typeof SplitFileChoices>;
