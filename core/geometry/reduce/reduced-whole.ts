import type { SourcePart } from '#core/geometry/bodies/source-part';
import type { ReachOfWhole } from '#core/geometry/reach/classes';
import type { PartWithOpenings } from './filled-parts';
import type { Left } from './left';
import type { ReducedPart } from './write-reduced';

/** A whole after all that is left out and filled. */
export interface ReducedWhole extends Left {
  gap: number;
  /** Of the whole as it is drawn. */
  reach: ReachOfWhole;
  /** Of what is left, once openings are closed: what is decided by. */
  reachLeft: ReachOfWhole;
  /** The files of bodies that stay, with what could be filled. */
  openings: ReadonlyMap<string, PartWithOpenings>;
  /** The files of bodies that stay, as they were. */
  originals: ReadonlyMap<string, SourcePart>;
  parts: ReducedPart[];
  /** Bodies that were not filled, and why. */
  odd: { file: string; body: number; why: string }[];
  /** Faces that filling takes away, or would. */
  holeFaces: number;
}
