import type { PlanContext } from '#core/planning';
import type { ProjectLink } from '#core/project/scan/project';
import type { FollowRules } from './choices';
import type { FollowOutline } from './outline';

/** Files that were made from one source by the same operation, to be made again from its newest version. */
export interface Remaking extends FollowRules {
  source: string;
  /** Their links to the source, each with what the file remembers: digest, items, recipe. */
  links: readonly ProjectLink[];
}

/** What came of it. */
export interface Remade {
  /** What became of the files, in a few words; null where all of them are at the newest version. */
  words: string | null;
  /** For a page that goes through the source body by body. */
  outline?: FollowOutline;
}

/** How the files that an operation made from others are made again by their recipes. One for each such operation. */
export interface Derivation {
  /** The operation's name, as recipes have it. */
  operation: string;
  /** Writes the files on the draft. @throws Refusal that says which step no longer fits, and why */
  remake(context: PlanContext, asked: Remaking): Promise<Remade>;
}
