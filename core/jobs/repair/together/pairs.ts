import { baseName, extensionOf } from '#core/files/links/paths';
import { append } from '#core/multimap';
import { roleByName } from '#core/project/formats/endings';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { type Project, placedAbove, type ScannedFile } from '#core/project/scan/project';
import type { Steps } from '#core/steps';
import { evidenceFor, type Known } from './evidence';
import { wayOf } from './renames';
import { Shortlist } from './shortlist';
import { ProjectSigns } from './signs';
import type { Slot } from './slots';
import type { Evidence, Memory } from './sum-of-evidence';
import { NameWords } from './words-of-files';

/** A way of renaming that explains so many slots is a rule. */
const RULE = 3;

/** So many pairs are looked at between rests. */
const RESTS = 32;

/** A slot and a file that it may mean. */
export interface Pair {
  file: ScannedFile;
  evidence: Evidence[];
  /** Why it must not be taken; null where it may. */
  unusable: string | null;
  /** How the name that is missed may have become the file's. */
  way: string | undefined;
  isByRule?: boolean;
}

export function says(
  { evidence }: Pair,
  flag: 'isProof' | 'isWitness' | 'isContrary' | 'isPutAside',
): boolean {
  return evidence.some((piece) => piece[flag]);
}

/** Every slot with each file that it may mean, and what speaks for and against that; in the order of the slots. */
export function* pairsOf(project: Project, slots: readonly Slot[], memory: Memory): Steps<Pair[][]> {
  const signs = yield* ProjectSigns.steps(project, slots);
  const names = yield* NameWords.steps([
    ...[...project.files.keys()].map((path) => baseName(path)),
    ...slots.map(({ name }) => name),
  ]);
  const shortlist = yield* Shortlist.steps(signs, names);
  const byHash = yield* filesByHash(project);
  const lastTargets = new Map(
    slots.map((slot) => [
      slot,
      slot.links.map((link) => memory.lastTargets.get(link)).find((last) => last !== undefined),
    ]),
  );
  const known: Known = {
    project,
    signs,
    names,
    boxes: memory.boxes,
    pathOf: (sha256) => byHash.get(sha256)?.[0],
    lastTargetOf: (slot) => lastTargets.get(slot),
  };
  const usability = new UsabilityCheck(project);
  const pairs: Pair[][] = [];
  for (const slot of slots) {
    const remembered = [lastTargets.get(slot)?.sha256, slot.links[0]!.source?.sha256];
    const others = [
      ...slot.links.flatMap(({ rivals }) => rivals),
      ...remembered.flatMap((sha256) => byHash.get(sha256 ?? '') ?? []),
    ];
    const own: Pair[] = [];
    for (const file of filesFor(slot, project, shortlist, others)) {
      if (own.length % RESTS === 0) yield;
      if (slot.links.some(({ holder }) => holder === file.path)) continue;
      const way =
        slot.part === null ? undefined : wayOf(names.partsOf(slot.name), names.partsOf(baseName(file.path)));
      const [evidence, unusable] = [evidenceFor(slot, file, known), usability.reason(slot, file)];
      own.push({ file, evidence, unusable, way });
    }
    pairs.push(own);
  }
  yield;
  tellRules(slots, pairs);
  return pairs;
}

function* filesByHash(project: Project): Steps<Map<string, string[]>> {
  const paths = new Map<string, string[]>();
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
  if (places || isAbout || slot.kind === 'source' || slot.kind === 'context')
    return shortlist.for(slot, others);
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

/** Finds the files that a slot must not have: those that place its holders, and those that cannot be read. */
class UsabilityCheck {
  private readonly above = new Map<string, ReadonlySet<string>>();

  constructor(private readonly project: Project) {}

  reason({ kind, holders }: Slot, { path, scan }: ScannedFile): string | null {
    if (LINK_KINDS[kind].places)
      for (const holder of holders)
        if (this.aboveOf(holder).has(path))
          return `Would make a loop: ${baseName(path)} itself uses ${baseName(holder)}`;
    return scan.error ? `Cannot be read: ${scan.error}` : null;
  }

  private aboveOf(holder: string): ReadonlySet<string> {
    let above = this.above.get(holder);
    if (!above) {
      above = placedAbove(this.project, holder);
      this.above.set(holder, above);
    }
    return above;
  }
}
