import { z } from 'zod';
import { KeptFace } from '#core/geometry/reduce/choices';
import {
  Folder,
  Gap,
  KeepMounting,
  namePattern,
  RoundOut,
  SharpEdges,
  SmallerThan,
} from '#core/geometry/reduce/common-choices';
import { MESH_FORMATS } from '#core/geometry/shape/mesh-formats';

/** How a solid was made, in words. */
export const WAY_WORDS = { exact: 'exact', facets: 'of facets', envelope: 'an envelope' } as const;
export type SealedWay = keyof typeof WAY_WORDS;

/** Everything that the engineer decides about a sealed solid. */
export const SealChoices = z.object({
  gap: Gap.describe('openings narrower than this are closed, mm'),
  /** Openings that are reached from outside stay, or are filled too. */
  openings: z.enum(['fill', 'keep']).default('fill').describe('what becomes of openings that are reached'),
  /** How it is made: exactly by the kernel, of facets, or exactly where that succeeds; or as an envelope around all of it. */
  way: z
    .enum(['auto', 'exact', 'facets', 'envelope'])
    .default('auto')
    .describe('how it is made: exactly, of facets, or as an envelope; exactly where that succeeds'),
  /** How far an envelope may stand off, mm; null for 10 % of the whole's diagonal. */
  standOff: z
    .number()
    .min(0.01)
    .max(1e5)
    .nullable()
    .default(null)
    .describe('how far an envelope may stand off, mm'),
  /** How far facets may lie off, mm. */
  within: z.number().min(0.001).max(100).default(0.1).describe('how far facets may lie off, mm'),
  smallerThan: SmallerThan,
  roundOut: RoundOut,
  sharpEdges: SharpEdges,
  /** Bodies that come near no other. */
  loose: z.enum(['refuse', 'drop']).default('refuse').describe('what becomes of bodies that touch nothing'),
  keepFaces: z.array(KeptFace).max(500).default([]),
  keepMounting: KeepMounting,
  formats: z.array(z.enum(MESH_FORMATS)).max(MESH_FORMATS.length).default([]).describe('formats beside STEP'),
  tie: z.boolean().default(true).describe('the project does not remember what it was made from'),
  pattern: namePattern('{name}-sealed'),
  folder: Folder,
});
export type SealChoices = z.infer<typeof SealChoices>;

export const SealFileChoices = SealChoices.extend({
  file: z.string().min(1).describe('the assembly or part that becomes one solid'),
});
export type SealFileChoices = z.infer<typeof SealFileChoices>;
