import { z } from 'zod';

const Words = z.string().max(400);

/** A face that what is offered is mounted by. */
const PublishedFace = z.object({
  name: Words.describe('What the engineer calls it.'),
  size: Words.nullable().describe('What it measures: `8 holes ⌀ 11 on ⌀ 180`.'),
});
export type PublishedFace = z.infer<typeof PublishedFace>;

/** What the page of something that is offered says of it. It is read by strangers: nothing here tells of the original. */
export const PublishedFacts = z.object({
  sides: z.tuple([z.number(), z.number(), z.number()]).describe('Sides of its box, mm.'),
  faces: z.number(),
  volume: z.number().optional().describe('mm³; what was published before this was said has none.'),
  bytes: z.number().int().nonnegative().describe('Of the STEP file.'),
  mounting: z
    .array(z.union([PublishedFace, Words]))
    .max(10_000)
    .describe('Faces that it is mounted by; those of older ones are bare names.'),
  partNumber: Words.optional().describe('What it is ordered by.'),
  conditions: z.string().max(5000).optional().describe('On what terms it may be used.'),
});
export type PublishedFacts = z.infer<typeof PublishedFacts>;

/** The faces that something is mounted by, also where they were written down as bare names. */
export function mountingFaces({ mounting }: Pick<PublishedFacts, 'mounting'>): PublishedFace[] {
  return mounting.map((face) => (typeof face === 'string' ? { name: face, size: null } : face));
}
