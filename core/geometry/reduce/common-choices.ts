import { z } from 'zod';

/** A point or a direction. */
export const Triple = z.tuple([z.number(), z.number(), z.number()]);

/** Width of an opening, mm; null for 2 % of the whole's diagonal. */
export const Gap = z
  .number()
  .positive()
  .max(1e6)
  .nullable()
  .default(null)
  .describe('openings narrower than this are never passed, mm');

/** Components whose box has a smaller diagonal, in percent of the whole's, are left out; 0 for none. */
export const SmallerThan = z
  .number()
  .min(0)
  .max(100)
  .default(0)
  .describe('leave out components below so many percent of the whole');

/** Teeth, threads, knurls and fins all around an axis become plain rings. */
export const RoundOut = z
  .boolean()
  .default(false)
  .describe('make plain rings of teeth, threads and fins around an axis');

/** Rounds up to this radius, and bevels that take off no more, become sharp edges, mm; null for none. */
export const SharpEdges = z
  .number()
  .positive()
  .max(1000)
  .nullable()
  .default(null)
  .describe('make sharp edges of rounds and bevels up to this size, mm');

/** Faces that others probably mount it by stay, besides those that are chosen one by one. */
export const KeepMounting = z
  .boolean()
  .default(false)
  .describe('keep patterns of holes and ends of shafts that it is probably mounted by');

/** Folder of the new file; null for the original's. */
export const Folder = z.string().max(500).nullable().default(null).describe('folder of the new file');

/** Name of the new file; `{name}` is the original's. @param usual what it is unless it is said */
export function namePattern(usual: string) {
  return z.string().trim().min(1).max(200).default(usual).describe('name of the new file');
}
