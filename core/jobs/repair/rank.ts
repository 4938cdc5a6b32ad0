import { onceFor } from '#core/once';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { atOnce, type Steps } from '#core/steps';
import { confidenceSteps } from './together/confidence';
import { type Pair, pairsOf, says } from './together/pairs';
import { isShaped } from './together/signs';
import { type Slot, slotsOf } from './together/slots';
import { type Evidence, type Memory, sumOf } from './together/sum-of-evidence';

/** A file that may be the one a broken link means. */
export interface Candidate {
  path: string;
  /** How sure it is, 0 to 1: over all links that are broken and all files, that the link may have lost its file included. */
  score: number;
  evidence: Evidence[];
  /** Set when choosing it would do harm: why. */
  unusable: string | null;
}

const NO_MEMORY: Memory = { lastTargets: new Map(), boxes: new Map() };

/** The candidates of all broken links; links in a loop have none. */
export type Ranking = ReadonlyMap<ProjectLink, readonly Candidate[]>;

/** So many candidates are kept for a link; of those that are hopeless only few, and none that all speaks against. */
const MOST = 12;
const LEAST_SHOWN = 4;
const HOPELESS = 0.01;
const LEAST_SUM = -4;

/**
 * Where nothing in the file speaks for it, nobody is surer than this: names may lie. The same where the file seems to be put aside,
 * unless a rule of renaming explains it.
 */
const MOST_UNWITNESSED = 0.85;

/** Nobody is certain. */
const SUREST = 0.999;

/** So many slots are gone through between rests. */
const RESTS = 32;

/**
 * Ranks the files that a broken link may mean, without what is remembered.
 * @example rankCandidates(project, link)[0] // { path: 'parts/lid_rev-b.stp', score: 0.998, evidence: [...], unusable: null }
 */
export function rankCandidates(project: Project, link: ProjectLink): readonly Candidate[] {
  return rankedOf(project).get(link) ?? [];
}

const rankedOf = onceFor((project: Project): Ranking => atOnce(rankSteps(project)));

/**
 * Ranks the files that all broken links may mean, together: a file that fits one better is not what another means, and any may be
 * gone. Cost grows with files, links, and the pairs of slots and files that have anything in common.
 */
export function* rankSteps(project: Project, memory: Memory = NO_MEMORY): Steps<Ranking> {
  const slots = slotsOf(project);
  yield;
  const pairs = yield* pairsOf(project, slots, memory);
  const beliefs = yield* believed(project, slots, pairs);
  const ranking = new Map<ProjectLink, readonly Candidate[]>();
  for (const [n, slot] of slots.entries()) {
    if (n % RESTS === 0) yield;
    const candidates = candidatesOf(pairs[n]!, beliefs[n]!);
    for (const link of slot.links) ranking.set(link, candidates);
  }
  return ranking;
}

/** How sure each pair is, over all; 0 for those that would do harm. */
function* believed(
  project: Project,
  slots: readonly Slot[],
  pairs: readonly (readonly Pair[])[],
): Steps<number[][]> {
  const numbers = new Map([...project.files.keys()].map((path, n) => [path, n]));
  yield;
  const beliefs = yield* confidenceSteps(
    slots.map(({ part }, n) => ({
      part,
      files: pairs[n]!.map(({ file, evidence, unusable }) => ({
        file: numbers.get(file.path)!,
        sum: unusable === null ? sumOf(evidence) : Number.NEGATIVE_INFINITY,
      })),
    })),
    [...project.files.values()].filter(isShaped).length,
  );
  return pairs.map((own, n) => own.map((pair, k) => capped(beliefs[n]![k]!, pair)));
}

/** The best first, what would do harm last. */
function candidatesOf(pairs: readonly Pair[], beliefs: readonly number[]): Candidate[] {
  return pairs
    .map(({ file, evidence, unusable }, n) => ({
      sum: sumOf(evidence),
      candidate: { path: file.path, score: rounded(beliefs[n]!), evidence, unusable },
    }))
    .filter(({ sum }) => sum > LEAST_SUM)
    .sort(
      ({ candidate: a, sum: sumA }, { candidate: b, sum: sumB }) =>
        Number(a.unusable !== null) - Number(b.unusable !== null) || b.score - a.score || sumB - sumA,
    )
    .map(({ candidate }) => candidate)
    .filter(({ score }, n) => n < LEAST_SHOWN || score >= HOPELESS)
    .slice(0, MOST);
}

function rounded(belief: number): number {
  return Math.min(SUREST, Math.round(belief * 1000) / 1000);
}

function capped(belief: number, pair: Pair): number {
  const isSure =
    says(pair, 'isProof') || (says(pair, 'isWitness') && (!says(pair, 'isPutAside') || pair.isByRule));
  return isSure ? belief : Math.min(MOST_UNWITNESSED, belief);
}

/** The candidate that may be taken without asking: usable, and at or above the threshold. */
export function clearWinner(candidates: readonly Candidate[], threshold: number): Candidate | undefined {
  const first = candidates.find(({ unusable }) => unusable === null);
  return first && first.score >= threshold ? first : undefined;
}
