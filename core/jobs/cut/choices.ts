import { z } from 'zod';

/** What becomes of the pieces of a cut. */
export const CutChoices = z.object({
  /**
   * They stay bodies of the part; or each becomes a component with a file of its own: in an assembly that takes the
   * part's place (nested), or directly in every assembly that uses the part (top).
   */
  as: z.enum(['bodies', 'nested', 'top']).default('bodies'),
  /** Names typed by the engineer, by path of the piece. */
  names: z.record(z.string(), z.string().max(1000)).default({}),
  /** Folder of new files; null for one named after the part, beside it. */
  folder: z.string().max(500).nullable().default(null).describe('folder of the new files'),
});
export type CutChoices = z.infer<typeof CutChoices>;

/** mm: farther than any part reaches. */
const Coordinate = z.number().min(-1e8).max(1e8);
export const Point = z.tuple([Coordinate, Coordinate, Coordinate]);
export const FaceOf = z.object({ of: z.union([z.int(), z.string().max(200)]), face: z.int().min(0) });

/** The cuts, one after the other. */
export const CutSteps = z
  .array(
    z.object({
      piece: z.string().max(200),
      cutter: z.discriminatedUnion('kind', [
        z.object({ kind: z.literal('plane'), at: Point, normal: Point }),
        z.object({ kind: z.literal('face'), ...FaceOf.shape }),
        z.object({
          kind: z.literal('line'),
          points: z.array(Point).min(2).max(200),
          along: z.union([Point, FaceOf]),
        }),
      ]),
    }),
  )
  .max(50);

export const CutBodyChoices = CutChoices.extend({
  file: z.string().min(1).describe('the part'),
  body: z.int().describe('number of the body in the file'),
  steps: CutSteps.min(1),
});
export type CutBodyChoices = z.infer<typeof CutBodyChoices>;
