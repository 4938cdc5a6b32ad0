import { baseName, extensionOf } from '#core/files/links/paths';
import { append } from '#core/multimap';
import { onceFor } from '#core/once';
import { roleByName } from '#core/project/formats/endings';
import { LINK_KINDS } from '#core/project/formats/kinds';
import type { Project, ProjectLink, ScannedFile } from '#core/project/scan/project';
import { atOnce, type Steps } from '#core/steps';
import { confidenceSteps } from './together/confidence';
import { evidenceFor, type Known } from './together/evidence';
import { wayOf } from './together/renames';
import { Shortlist } from './together/shortlist';
import { isShaped, ProjectSigns } from './together/signs';
import { type Slot, slotsOf } from './together/slots';
import { type Evidence, type LastTarget, sumOf } from './together/sum-of-evidence';
import { NameWords } from './together/words-of-files';

/** A file that may be the one a broken link means. */
export interface Candidate {
  path: string;
  /** How sure it is, 0 to 1: over all links that are broken and all files, that the link may have lost its file included. */
  score: number;
  evidence: Evidence[];
  /** Set when choosing it would do harm: why. */
  unusable: string | null;
}

/** What is known of a project besides its files. */
export interface Memory {
  lastTargets: ReadonlyMap<ProjectLink, LastTarget>;
  /** Sizes of the boxes around all bodies of files, where they are known, by content hash, in millimetres. */
  boxes: ReadonlyMap<string, readonly [number, number, number]>;
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

/** A way of renaming that explains so many slots is a rule. */
const RULE = 3;

/** So many pairs are looked at between rests. */
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
  const signs = yield* ProjectSigns.steps(project, slots);
  const names = yield* NameWords.steps([
    ...[...project.files.keys()].map((path) => baseName(path)),
    ...slots.map(({ name }) => name),
  ]);
  const shortlist = yield* Shortlist.steps(signs, names);
  const byHash = yield* filesByHash(project, memory);
  const known: Known = {
    project,
    signs,
    names,
    boxes: memory.boxes,
    pathOf: (sha256) => byHash.get(sha256)?.[0],
    lastTargetOf: ({ links }) => links.map((link) => memory.lastTargets.get(link)).find((last) => last),
  };

  // 1. Every slot against the files that it may mean.
  const wayward = new UsabilityCheck(project);
  const pairs: Pair[][] = [];
  for (const slot of slots) {
    const last = known.lastTargetOf(slot)?.sha256;
    const others = [...slot.links.flatMap(({ rivals }) => rivals), ...(byHash.get(last ?? '') ?? [])];
    const own: Pair[] = [];
    for (const file of filesFor(slot, project, shortlist, others)) {
      if (own.length % RESTS === 0) yield;
      if (slot.links.some(({ holder }) => holder === file.path)) continue;
      own.push({
        file,
        evidence: evidenceFor(slot, file, known),
        unusable: wayward.reason(slot, file),
        way:
          slot.part === null
            ? undefined
            : wayOf(names.partsOf(slot.name), names.partsOf(baseName(file.path))),
      });
    }
    pairs.push(own);
  }

  // 2. Rules by which many were renamed.
  yield;
  tellRules(slots, pairs);

  // 3. How sure each is, over all.
  yield;
  const numbers = new Map([...project.files.keys()].map((path, n) => [path, n]));
  const usable = pairs.map((own) => own.filter(({ unusable }) => unusable === null));
  const beliefs = yield* confidenceSteps(
    slots.map(({ part }, n) => ({
      part,
      files: usable[n]!.map(({ file, evidence }) => ({
        file: numbers.get(file.path)!,
        sum: sumOf(evidence),
      })),
    })),
    signs.shaped.length,
  );
  const ranking = new Map<ProjectLink, readonly Candidate[]>();
  for (const [n, slot] of slots.entries()) {
    if (n % RESTS === 0) yield;
    const scores = new Map(usable[n]!.map((pair, k) => [pair, capped(beliefs[n]![k]!, pair)]));
    const candidates = pairs[n]!.map((pair) => ({
      ...candidateOf(pair, scores.get(pair) ?? 0),
      sum: sumOf(pair.evidence),
    }))
      .filter(({ sum }) => sum > LEAST_SUM)
      .sort(
        (a, b) =>
          Number(a.unusable !== null) - Number(b.unusable !== null) || b.score - a.score || b.sum - a.sum,
      )
      .filter(({ score }, k) => k < LEAST_SHOWN || score >= HOPELESS)
      .slice(0, MOST)
      .map(({ sum: _, ...candidate }) => candidate);
    for (const link of slot.links) ranking.set(link, candidates);
  }
  return ranking;
}

/** A slot and a file that it may mean. */
interface Pair {
  file: ScannedFile;
  evidence: Evidence[];
  unusable: string | null;
  /** How the name that is missed may have become the file's. */
  way: string | undefined;
  isByRule?: boolean;
}

function* filesByHash(project: Project, { lastTargets }: Memory): Steps<Map<string, string[]>> {
  const paths = new Map<string, string[]>();
  if (lastTargets.size === 0) return paths;
  let steps = 0;
  for (const { path, sha256 } of project.files.values()) {
    if (steps++ % 1024 === 0) yield;
    append(paths, sha256, path);
  }
  return paths;
}

/** The files that a slot may mean at all: shapes, or what has the same ending as what is written. */
function filesFor(
  slot: Slot,
  project: Project,
  shortlist: Shortlist,
  others: Iterable<string>,
): Iterable<ScannedFile> {
  const { places, isAbout } = LINK_KINDS[slot.kind];
  if (slot.kind === 'source' || slot.kind === 'context') return [...project.files.values()].filter(isShaped);
  if (places || isAbout) return shortlist.for(slot, others);
  const isImage = roleByName(slot.name) === 'image';
  return [...project.files.values()].filter(
    ({ path, scan }) => (isImage && scan.role === 'image') || extensionOf(path) === extensionOf(slot.name),
  );
}

/** A way of renaming that explains several slots speaks for what it leads to, more than the bare name does. */
function tellRules(slots: readonly Slot[], pairs: readonly Pair[][]): void {
  const explained = new Map<string, number>();
  for (const own of pairs)
    for (const way of new Set(own.flatMap((pair) => pair.way ?? [])))
      explained.set(way, (explained.get(way) ?? 0) + 1);
  const asking = slots.filter(({ part }) => part !== null).length;
  for (const pair of pairs.flat()) {
    const count = explained.get(pair.way ?? '') ?? 0;
    if (count < RULE || says(pair, 'isContrary')) continue;
    const weight = Math.min(7, 3.5 + Math.log(count) + (1.5 * count) / asking);
    const byName = pair.evidence.find(({ isName }) => isName)!;
    pair.isByRule = true;
    if (byName.weight < weight)
      Object.assign(byName, { weight, words: `${byName.words}, as ${count - 1} others were renamed` });
  }
}

function capped(belief: number, pair: Pair): number {
  const isSure =
    says(pair, 'isProof') || (says(pair, 'isWitness') && (!says(pair, 'isPutAside') || pair.isByRule));
  return isSure ? belief : Math.min(MOST_UNWITNESSED, belief);
}

function says({ evidence }: Pair, flag: 'isProof' | 'isWitness' | 'isContrary' | 'isPutAside'): boolean {
  return evidence.some((piece) => piece[flag]);
}

function candidateOf({ file, evidence, unusable }: Pair, score: number): Candidate {
  return { path: file.path, score: Math.min(SUREST, Math.round(score * 1000) / 1000), evidence, unusable };
}

/** The candidate that may be taken without asking: usable, and at or above the threshold. */
export function clearWinner(candidates: readonly Candidate[], threshold: number): Candidate | undefined {
  const first = candidates.find(({ unusable }) => unusable === null);
  return first && first.score >= threshold ? first : undefined;
}

/** Finds the files that a slot must not have: those that place its holders, and those that cannot be read. */
class UsabilityCheck {
  private readonly above = new Map<string, ReadonlySet<string>>();

  constructor(private readonly project: Project) {}

  reason({ kind, holders }: Slot, { path, scan }: ScannedFile): string | null {
    if (LINK_KINDS[kind].places)
      for (const holder of holders)
        if (this.placing(holder).has(path))
          return `Would make a loop: ${baseName(path)} itself uses ${baseName(holder)}`;
    return scan.error ? `Cannot be read: ${scan.error}` : null;
  }

  /** A file and all that place it, directly or through others. */
  private placing(file: string): ReadonlySet<string> {
    let above = this.above.get(file);
    if (!above) {
      const found = new Set([file]);
      for (const path of found)
        for (const { holder, kind } of this.project.usedBy.get(path) ?? [])
          if (LINK_KINDS[kind].places) found.add(holder);
      above = found;
      this.above.set(file, above);
    }
    return above;
  }
}
