import { z } from 'zod';
import { FILL_KINDS } from '#core/geometry/fill/opening-kinds';
import { MOST_CHOSEN } from '#core/misfit';
import { Gap, RoundOut, SharpEdges, SmallerThan, Triple } from './common-choices';

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
export const STEPS = [
  'size',
  'standard',
  'material',
  'slender',
  'hand',
  'hidden',
  'fill',
  'round',
  'forget',
] as const;
export type Step = (typeof STEPS)[number];

/** Words that names of standard parts begin with, or hold. */
export const STANDARD_WORDS = 'screw, bolt, nut, washer, stud, rivet, pin, circlip, clip, plug';

/** What is left out of a whole, what is filled, and what stays: what every lighter model is begun with. */
export const ReduceChoices = z.object({
  smallerThan: SmallerThan,
  /** Words, with commas between: components that are named so are left out. */
  standard: z
    .string()
    .max(500)
    .default('')
    .describe('leave out components with one of these words in their name'),
  /** Components of these materials are left out. */
  materials: z
    .array(z.string().max(200))
    .max(1000)
    .default([])
    .describe('leave out components of these materials'),
  /** Rods, cables and coils that are more than so many times as long as thick are left out; 0 for none. */
  slender: z
    .number()
    .min(0)
    .max(1e6)
    .default(0)
    .describe('leave out cables, springs and rods more than so many times as long as thick'),
  /** Components left out by hand, by their places in the structure. */
  without: z
    .array(z.string().max(4000))
    .max(MOST_CHOSEN)
    .default([])
    .describe('components that are left out, by their names below the top'),
  /** Components that stay whatever else is chosen. */
  keep: z
    .array(z.string().max(4000))
    .max(MOST_CHOSEN)
    .default([])
    .describe('components that stay whatever is decided'),
  /** What nobody comes to from outside is left out. */
  hidden: z.boolean().default(false).describe('leave out what cannot be touched from outside'),
  /** What is seen through an opening but not reached. */
  seen: z.enum(['keep', 'drop']).default('keep').describe('what is only seen through an opening'),
  gap: Gap,
  fill: z.array(z.enum(FILL_KINDS)).max(FILL_KINDS.length).default([]).describe('what is filled'),
  /** Only what has no larger mouth, mm; null for all. */
  fillBelow: z
    .number()
    .positive()
    .max(1e6)
    .nullable()
    .default(null)
    .describe('fill what has no larger mouth, mm'),
  /** How deep engravings are at most, mm. */
  engraved: z.number().positive().max(100).default(1).describe('how deep engravings are at most, mm'),
  /** Only what nobody reaches from outside. */
  fillHidden: z.boolean().default(false).describe('fill only what cannot be touched from outside'),
  roundOut: RoundOut,
  sharpEdges: SharpEdges,
  /** Faces that lie in one surface and meet become one. */
  joinFaces: z.boolean().default(false).describe('make one face of faces that lie in one surface'),
  /** Each body becomes an envelope around it that stands off by no more, mm; null for none. */
  envelopes: z
    .number()
    .min(0.01)
    .max(1e5)
    .nullable()
    .default(null)
    .describe('an envelope in place of each body, off it by no more than this, mm'),
  /** What ends inside of filled material, or of another body, is cut off where it enters. */
  cutEnds: z.boolean().default(false).describe('cut off what ends inside of other parts'),
  /** Steps that are set up but not carried out. */
  off: z.array(z.enum(STEPS)).max(STEPS.length).default([]),
  keepFaces: z.array(KeptFace).max(500).default([]),
  forget: z.array(z.enum(FORGETTABLE)).max(FORGETTABLE.length).default([]).describe('what is forgotten'),
});
export type ReduceChoices = z.infer<typeof ReduceChoices>;

/** @example reduceChoices({ hidden: true }) leaves out what nobody reaches, and nothing else */
export function reduceChoices(choices: z.input<typeof ReduceChoices> = {}): ReduceChoices {
  return ReduceChoices.parse(choices);
}
