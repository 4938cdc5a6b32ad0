import { z } from 'zod';
import type { Recipe } from '#core/files/formats/source-memory';
import { OPENING_KINDS } from '#core/geometry/fill/opening-kinds';
import { Folder, Gap, namePattern, SmallerThan, Triple } from './common-choices';

/** What a face is known by in another version of its part: its surface, and where it lies on the body. mm. */
export const FaceTrace = z.object({
  surface: z.string().max(20),
  /** Outward normal of a plane, direction of the axis of a round face. */
  direction: Triple,
  /** Middle of its corners. */
  centre: Triple,
  /** Of round faces. */
  radius: z.number(),
  area: z.number(),
  /** Box of the body. */
  box: z.array(z.number()).length(6),
});
export type FaceTrace = z.infer<typeof FaceTrace>;

/** A face that stays as it is, with all its holes. */
export const KeptFace = z.object({
  /** Empty for the file that is made lighter. */
  file: z.string().max(1000),
  /** Number of the ADVANCED_FACE in the file. */
  face: z.int().positive(),
  name: z.string().max(200).default(''),
  trace: FaceTrace.nullable().default(null),
});
export type KeptFace = z.infer<typeof KeptFace>;

/** What can be forgotten on the way to the lite file. Properties, notes and history are never taken along. */
export const FORGETTABLE = ['names', 'ids', 'colours', 'layers', 'materials', 'authors'] as const;
export type Forgettable = (typeof FORGETTABLE)[number];

/** The steps of a lite model, in their order. */
export const STEPS = ['size', 'standard', 'material', 'hand', 'hidden', 'fill', 'forget'] as const;
export type Step = (typeof STEPS)[number];

/** Words that names of standard parts begin with, or hold. */
export const STANDARD_WORDS = 'screw, bolt, nut, washer, stud, rivet, pin, circlip, clip, plug';

/** Everything that the engineer decides about a lite model. */
export const LiteChoices = z.object({
  smallerThan: SmallerThan,
  /** Words, with commas between: components that are named so are left out. */
  standard: z
    .string()
    .max(500)
    .default('')
    .describe('leave out components with one of these words in their name'),
  /** Components of these materials are left out. */
  materials: z.array(z.string().max(200)).default([]).describe('leave out components of these materials'),
  /** Components left out by hand, by their places in the structure. */
  without: z.array(z.string().max(4000)).default([]),
  /** Components that stay whatever else is chosen. */
  keep: z.array(z.string().max(4000)).default([]),
  /** What nobody comes to from outside is left out. */
  hidden: z.boolean().default(false).describe('leave out what nobody reaches from outside'),
  /** What is seen through an opening but not reached. */
  seen: z.enum(['keep', 'drop']).default('keep').describe('what is only seen through an opening'),
  gap: Gap,
  fill: z.array(z.enum(OPENING_KINDS)).default([]).describe('what is filled'),
  /** Only what has no larger mouth, mm; null for all. */
  fillBelow: z
    .number()
    .positive()
    .max(1e6)
    .nullable()
    .default(null)
    .describe('fill what has no larger mouth, mm'),
  /** Only what nobody reaches from outside. */
  fillHidden: z.boolean().default(false).describe('fill only what nobody reaches from outside'),
  /** Steps that are set up but not carried out. */
  off: z.array(z.enum(STEPS)).default([]),
  keepFaces: z.array(KeptFace).max(500).default([]),
  forget: z.array(z.enum(FORGETTABLE)).default([]).describe('what is forgotten'),
  /** One part, or an assembly of the parts that are left. */
  form: z
    .enum(['assembly', 'part'])
    .default('assembly')
    .describe('one part in place of an assembly of few parts'),
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

export function liteChoices(given: z.input<typeof LiteChoices> = {}): LiteChoices {
  return LiteChoices.parse(given);
}

/** How a lite model is made again: what was chosen otherwise than it is without being said. */
export function recipeOf(choices: LiteChoices): Recipe {
  const usual = liteChoices();
  const chosen = Object.entries(choices).filter(
    ([name, value]) =>
      name !== 'file' && JSON.stringify(value) !== JSON.stringify(usual[name as keyof LiteChoices]),
  );
  return { operation: 'lite', choices: Object.fromEntries(chosen) };
}

/** What is forgotten: for strangers, everything. */
export function forgottenIn({
  forget,
  outside,
  off,
}: Pick<LiteChoices, 'forget' | 'outside' | 'off'>): ReadonlySet<Forgettable> {
  return new Set(outside ? FORGETTABLE : off.includes('forget') ? [] : forget);
}
