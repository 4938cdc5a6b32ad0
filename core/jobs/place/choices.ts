import { z } from 'zod';
import { type ArrangePreview, assemblyFile, chosenOccurrences } from '#core/jobs/arrange/choices';
import type { Matrix4 } from '#core/product/matrix';
import type { PartFigures } from './part-figures';
import { MOST_IN_PATTERN } from './placements';

const part = z.string().min(1).max(4000);

/** As far as assemblies reach: a hundred kilometres, mm. */
const FAR = 1e8;
const position = z
  .tuple([z.number(), z.number(), z.number()])
  .refine((xyz) => xyz.every((value) => Math.abs(value) <= FAR), 'lies too far away')
  .describe('x, y and z, in mm');
const turn = z
  .tuple([z.number(), z.number(), z.number()])
  .describe('degrees about x, then about y, then about z');

export const PlaceChoices = z.object({
  file: assemblyFile,
  part: part.describe('the file that is placed'),
  into: z
    .string()
    .min(1)
    .max(1000)
    .nullable()
    .default(null)
    .describe('the assembly in the file, by its name, its id or its number; the top one unless it is said'),
  position: position.default([0, 0, 0]),
  turn: turn.default([0, 0, 0]),
  like: z
    .string()
    .min(1)
    .max(1000)
    .nullable()
    .default(null)
    .describe('where another component is, by its number or its name'),
});
export type PlaceChoices = z.infer<typeof PlaceChoices>;

const count = z
  .int()
  .min(2)
  .max(MOST_IN_PATTERN)
  .describe('how many stand there in the end, the one that is there included');

export const PlaceAgainChoices = z.object({
  file: assemblyFile,
  occurrences: chosenOccurrences,
  count,
  step: position.nullable().default(null).describe('from one to the next in a row, in mm: x, y and z'),
  around: z
    .object({
      through: position.default([0, 0, 0]),
      axis: z.tuple([z.number(), z.number(), z.number()]).default([0, 0, 1]),
      /** Of the whole circle, or from the first to the last. */
      angle: z.number().min(-360).max(360).default(360),
    })
    .nullable()
    .default(null),
});
export type PlaceAgainChoices = z.infer<typeof PlaceAgainChoices>;

export const SetPlacementChoices = z.object({
  file: assemblyFile,
  occurrences: chosenOccurrences,
  position: position.nullable().default(null).describe('x, y and z, in mm; as it is unless it is said'),
  turn: turn
    .nullable()
    .default(null)
    .describe('degrees about x, then about y, then about z; as it is unless it is said'),
  relative: z.boolean().default(false).describe('shift and turn them from where they are'),
});
export type SetPlacementChoices = z.infer<typeof SetPlacementChoices>;

export const ReplaceChoices = z.object({
  file: assemblyFile,
  occurrences: chosenOccurrences,
  part: part.describe('the file that takes their place'),
  everywhere: z
    .boolean()
    .default(false)
    .describe('wherever the project places the same component, in every assembly'),
  fit: z
    .boolean()
    .default(false)
    .describe('turn and shift it so that it lies where the old one does, where it is the same shape'),
});
export type ReplaceChoices = z.infer<typeof ReplaceChoices>;

export const OwnCopyChoices = z.object({
  file: assemblyFile,
  occurrences: chosenOccurrences,
  name: z
    .string()
    .min(1)
    .max(200)
    .nullable()
    .default(null)
    .describe('what the copy is called; the old name with a number unless it is said'),
});
export type OwnCopyChoices = z.infer<typeof OwnCopyChoices>;

export interface ReplacePreview extends ArrangePreview {
  /** What was there, where all of it was one component, and what takes its place; null where it is not measured yet. */
  was: PartFigures | null;
  now: PartFigures | null;
  /** The motion that lays the new one where the old one is: null for another shape; how far in mm and in degrees. */
  fits: { distance: number; angle: number; motion: Matrix4 } | null;
  /** Assemblies that change. */
  assemblies: string[];
}
