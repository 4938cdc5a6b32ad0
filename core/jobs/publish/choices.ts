import { z } from 'zod';
import { KeptFace } from '#core/geometry/reduce/choices';
import type { MESH_FORMATS } from '#core/geometry/shape/mesh-formats';

/** What can be offered of a file: itself, and meshes of it. */
export const OFFERED_FORMATS = ['step', 'glb', '3mf', 'stl'] as const satisfies readonly (
  | 'step'
  | (typeof MESH_FORMATS)[number]
)[];
export type OfferedFormat = (typeof OFFERED_FORMATS)[number];

/** A face of the file that is named on its page, by its number in the file, or by what it is found again by. */
const OfferedFace = KeptFace.omit({ file: true });

export const PublishChoices = z.object({
  file: z.string().min(1).max(4000).describe('the file that is offered'),
  title: z
    .string()
    .trim()
    .min(1, 'Give it a title.')
    .max(120)
    .nullable()
    .default(null)
    .describe('what it is called; its file name unless it is said'),
  formats: z
    .array(z.enum(OFFERED_FORMATS))
    .min(1, 'Offer it in one format at least.')
    .max(OFFERED_FORMATS.length)
    .default([...OFFERED_FORMATS])
    .describe('the formats that it is offered in'),
  partNumber: z.string().trim().max(60).default('').describe('what it is ordered by'),
  conditions: z.string().trim().max(5000).default('').describe('on what terms it may be used'),
  /** Null for the faces that it was made to keep; where none were, patterns of holes and ends of shafts. */
  mounting: z
    .array(OfferedFace)
    .max(50)
    .nullable()
    .default(null)
    .describe('the faces that its page says it is mounted by'),
});
export type PublishChoices = z.infer<typeof PublishChoices>;

export const RenewCatalogueChoices = z.object({
  offers: z
    .array(PublishChoices)
    .min(1, 'Nothing was chosen.')
    .max(200)
    .describe('what is offered anew, each as it is to be offered'),
});
export type RenewCatalogueChoices = z.infer<typeof RenewCatalogueChoices>;
