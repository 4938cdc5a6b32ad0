import { z } from 'zod';
import { unusualChoices } from '#core/choices';
import { FORGETTABLE, type Forgettable, ReduceChoices, type Step } from '#core/geometry/reduce/choices';
import { Folder, KeepMounting, namePattern } from '#core/geometry/reduce/common-choices';
import type { Recipe } from '#core/product/source/memory';

/** How much a lite model may come to. */
export const Budget = z.object({
  what: z.enum(['faces', 'triangles', 'bytes']),
  most: z.number().positive().max(1e12),
});
export type Budget = z.infer<typeof Budget>;

/** Everything that the engineer decides about a lite model. */
export const LiteChoices = ReduceChoices.extend({
  /** One part, or an assembly of the parts that are left. */
  form: z
    .enum(['assembly', 'part'])
    .default('assembly')
    .describe('one part in place of an assembly of few parts'),
  keepMounting: KeepMounting,
  /** How much it may come to: choices that reach it are looked for, from those that are made on. */
  budget: Budget.nullable().default(null),
  /** For strangers: no tie, no recipe, nothing that tells of the inside. */
  outside: z.boolean().default(false).describe('for outside: no tie and no recipe, all is forgotten'),
  /** The new file remembers what it was made from, and how. */
  tie: z.boolean().default(true).describe('the new file does not remember what it was made from'),
  pattern: namePattern('{name}-lite'),
  folder: Folder,
});
export type LiteChoices = z.infer<typeof LiteChoices>;

export const LiteFileChoices = LiteChoices.extend({
  file: z.string().min(1).describe('the assembly or part that is made lighter'),
});
export type LiteFileChoices = z.infer<typeof LiteFileChoices>;

export function liteChoices(choices: z.input<typeof LiteChoices> = {}): LiteChoices {
  return LiteChoices.parse(choices);
}

/** What of the choices is for any file; a step that is set up and off is no step of it. */
export function ofAnyFile(choices: LiteFileChoices): Partial<LiteChoices> {
  const {
    file: _file,
    folder: _folder,
    keepFaces: _faces,
    without: _out,
    keep: _in,
    off,
    ...general
  } = choices;
  const nothing: { readonly [step in Step]: Partial<LiteChoices> } = {
    size: { smallerThan: 0 },
    standard: { standard: '' },
    material: { materials: [] },
    slender: { slender: 0 },
    hand: {},
    hidden: { hidden: false },
    fill: { fill: [] },
    round: { roundOut: false, sharpEdges: null, joinFaces: false, envelopes: null },
    forget: { forget: [] },
  };
  return Object.assign(general, ...off.map((step) => nothing[step]));
}

/** How a lite model is made again. */
export function recipeOf(choices: LiteChoices): Recipe {
  return { operation: 'lite', choices: unusualChoices(LiteChoices, choices) };
}

/** What is forgotten: for strangers, everything. */
export function forgottenIn({
  forget,
  outside,
  off,
}: Pick<LiteChoices, 'forget' | 'outside' | 'off'>): ReadonlySet<Forgettable> {
  return new Set(outside ? FORGETTABLE : off.includes('forget') ? [] : forget);
}
