import { baseName, extensionOf, folderOf } from '#core/files/links/paths';
import { formatByName, hasStructure } from '#core/project/formats/endings';
import { bodyCount } from '#core/project/scan/content';
import { fold } from '#core/project/scan/designations';
import type { Project, ScannedFile } from '#core/project/scan/project';
import { nameDifference } from '../name-difference';
import type { ProjectSigns } from './signs';
import type { Slot } from './slots';
import { sourceEvidence } from './source-evidence';
import { type Evidence, type LastTarget, PROOF } from './sum-of-evidence';
import type { NameWords } from './words-of-files';

/*
 * What speaks for or against a file being what is missed. Each piece is the natural logarithm of how much likelier it is to be seen
 * where the file is the one than where it is any other; their sum is how much all together say. The figures were found on made-up
 * damage of many kinds (core/testing/damaged-project.ts).
 */

/** What is known of the whole project. */
export interface Known {
  project: Project;
  signs: ProjectSigns;
  names: NameWords;
  /** Sizes of the boxes around all bodies of files, where they are known, by content hash, in millimetres. */
  boxes: ReadonlyMap<string, readonly [number, number, number]>;
  lastTargetOf(slot: Slot): LastTarget | undefined;
  /** A file with a content that a link last led to. */
  pathOf(sha256: string): string | undefined;
}

/** What a link last led to is remembered by its content. Where that is in the project, hardly another file is meant. */
const SAME_CONTENT = 12;
const OTHER_CONTENT = -7;

/** So often an id or a volume happens to be the same although the part is another one. */
const CHANCE = 0.0008;

/** What speaks against the file that a doubted link leads to, besides what it is doubted for. */
const DOUBTED: readonly Evidence[] = [{ weight: -2, words: 'Doubted, though it is where the link says' }];

/** Nothing that differs is worse than this. */
const WORST = -4;

export function evidenceFor(slot: Slot, file: ScannedFile, known: Known): Evidence[] {
  const [link] = slot.links;
  const about = link!.source
    ? sourceEvidence(known.project, file, link!, link!.source, slot.wanted)
    : [
        // What a doubted link leads to is no evidence for itself.
        ...(file.path === slot.doubted ? DOUBTED : contentEvidence(file, known, slot)),
        ...(slot.part === null ? [] : productEvidence(slot, file, known)),
        ...(slot.part === null ? [] : sizeEvidence(slot, file, known)),
      ];
  return [
    ...about,
    ...nameEvidence(slot, file, known),
    ...placeEvidence(slot, file),
    ...(slot.part === null ? [] : usageEvidence(slot, file, known)),
  ];
}

function contentEvidence(file: ScannedFile, known: Known, slot: Slot): Evidence[] {
  const last = known.lastTargetOf(slot);
  if (!last) return [];
  if (file.sha256 === last.sha256)
    return [{ weight: SAME_CONTENT, ...PROOF, words: 'Same content as the file that the link last led to' }];
  const evidence: Evidence[] = [];
  const elsewhere = known.pathOf(last.sha256);
  if (elsewhere !== undefined && slot.doubted === undefined)
    evidence.push({
      weight: OTHER_CONTENT,
      words: `Not what the link last led to: that is ${baseName(elsewhere)} now`,
    });
  const bodies = bodyCount(file.scan);
  if (last.bodies !== undefined && bodies > 0) {
    if (last.bodies === bodies)
      evidence.push({ weight: 0.3, words: `${bodies} ${bodies === 1 ? 'body' : 'bodies'}, as before` });
    else evidence.push({ weight: -0.5, words: `${bodies} bodies where there were ${last.bodies}` });
  }
  if (last.unit && file.scan.unit && last.unit !== file.scan.unit)
    evidence.push({ weight: -0.5, words: `Unit is ${file.scan.unit}, was ${last.unit}` });
  const box = known.boxes.get(file.sha256);
  if (last.box && box) {
    const apart = Math.max(
      ...box.map((size, n) => Math.abs(size - last.box![n]!) / Math.max(size, last.box![n]!, 1e-9)),
    );
    if (apart < 0.001) evidence.push({ weight: 3, isWitness: true, words: 'Box of the same size as before' });
    else if (apart < 0.1) evidence.push({ weight: 1, words: 'Box of nearly the same size as before' });
    else evidence.push({ weight: -1, words: 'Box of another size than before' });
  }
  return evidence;
}

/**
 * What the products of a file say. A word that only this file carries says most; one that several carry little. That words differ
 * speaks against the file as far as the stand-ins are to be believed, and more where its own are asked for elsewhere.
 */
function productEvidence(slot: Slot, file: ScannedFile, known: Known): Evidence[] {
  const { signs, names } = known;
  const offer = signs.offerOf(file);
  if (slot.wanted.length === 0 || offer.designations.length === 0) return [];
  // Content that the link led to before needs no name to speak for it.
  if (known.lastTargetOf(slot)?.sha256 === file.sha256) return [];
  const trust = signs.trustIn(slot);
  const evidence: Evidence[] = [];
  const common = [...slot.words].filter((word) => offer.words.has(word));
  const [best] = common
    .map((word) => ({ word, weight: weightOfWord(word, trust, signs) }))
    .sort((a, b) => b.weight - a.weight);
  if (best) {
    const carriers = signs.carriersOf(best.word).length;
    evidence.push({
      weight: best.weight,
      isWitness: best.weight > 1,
      words: `Product ${writtenOf(slot, best.word)} is the one that the assembly asks for${carriers > 1 ? `; ${carriers} files carry it` : ''}`,
    });
  }
  const telling = (words: ReadonlySet<string>) =>
    [...words].filter((word) => !common.includes(word) && signs.isTelling(word));
  const [asked, there] = [telling(slot.words), telling(offer.words)];
  if (asked.length === 0 || there.length === 0) return evidence;
  // Ids of a family differ by a letter: what is asked for elsewhere is no other spelling of this one.
  const isAnothers = there.some((word) => signs.isAskedFor(word));
  const alike = Math.max(...asked.flatMap((word) => there.map((other) => names.likeness(word, other))));
  if (alike >= 0.8 && !isAnothers) {
    if (!best)
      evidence.push({
        weight: 2 + 10 * (alike - 0.8),
        words: `Product ${called(offer.designations[0]!)} is much like the one that the assembly asks for`,
      });
    return evidence;
  }
  // A word that is this part's alone outweighs a name in another language.
  if (best && signs.sharers(best.word) === 1 && !isAnothers) return evidence;
  const against = Math.max(WORST, Math.log(1 - trust)) - (isAnothers ? 2 * trust : 0);
  if (against < 0)
    evidence.push({
      weight: against,
      isContrary: true,
      words: isAnothers
        ? `Is ${called(offer.designations[0]!)}, which is asked for elsewhere`
        : `Is ${called(offer.designations[0]!)}; the assembly asks for ${called(slot.wanted[0]!)}`,
    });
  return evidence;
}

function weightOfWord(word: string, trust: number, signs: ProjectSigns): number {
  const others = (signs.sharers(word) - 1) / Math.max(1, signs.shaped.length);
  return Math.log(trust / (others + CHANCE));
}

/** A folded word as the stand-in writes it, and which of both it is. */
function writtenOf({ wanted }: Slot, word: string): string {
  for (const { id, name } of wanted) {
    if (fold(id) === word) return `id ${id}`;
    if (fold(name) === word) return `name ${name}`;
  }
  return word;
}

function called({ id, name }: { id: string; name: string }): string {
  return name || id;
}

/** Volume and area that the stand-in states, and that the file states of itself. */
function sizeEvidence(slot: Slot, file: ScannedFile, { signs }: Known): Evidence[] {
  const isSame = signs.statesTheSize(slot, file);
  if (isSame === undefined) return [];
  if (!isSame)
    return [{ weight: -3, isContrary: true, words: 'States another volume than the assembly does' }];
  const others = (signs.ofTheVolume(slot).length - 1) / Math.max(1, signs.shaped.length);
  return [
    {
      weight: Math.log(0.95 / (Math.max(0, others) + CHANCE)),
      isWitness: true,
      words: 'States the same volume as the assembly does',
    },
  ];
}

/** Logarithms of likelihood by the likeness of names; between the points in a straight line. */
const BY_LIKENESS: readonly [likeness: number, weight: number][] = [
  [0.4, -2.2],
  [0.55, -1],
  [0.65, 0.3],
  [0.75, 2.2],
  [0.85, 4],
  [0.95, 5],
  [1, 6],
];

export function weightOfLikeness(likeness: number): number {
  const after = BY_LIKENESS.findIndex(([point]) => likeness <= point);
  if (after === 0) return BY_LIKENESS[0]![1];
  if (after < 0) return BY_LIKENESS.at(-1)![1];
  const [[low, from], [high, to]] = [BY_LIKENESS[after - 1]!, BY_LIKENESS[after]!];
  return from + ((likeness - low) / (high - low)) * (to - from);
}

function nameEvidence(slot: Slot, file: ScannedFile, { names }: Known): Evidence[] {
  const offered = baseName(file.path);
  const weight = weightOfLikeness(names.likeness(slot.name, offered));
  const evidence: Evidence[] = [
    {
      weight,
      isName: true,
      words: weight < 0 ? 'Has quite another name' : nameDifference(slot.name, offered),
    },
  ];
  const isSameKind =
    extensionOf(slot.name) === extensionOf(offered) ||
    (formatByName(slot.name) === file.scan.format && hasStructure(slot.name));
  if (!isSameKind)
    evidence.push({
      weight: -2,
      words: `Another kind of file: the link says ${extensionOf(slot.name) || 'none'}`,
    });
  return evidence;
}

/** Folders and tails in which files are put aside. */
const ASIDE =
  /(^|[/\s._-])(old|archive|archived|backup|bak|obsolete|superseded|trash|tmp|temp)([/\s._-]|\d|$)/i;
const COPY = /(^|[\s._(-])copy([\s._)-]|\d|$)| \(\d+\)\.[^.]*$/i;

function placeEvidence(slot: Slot, file: ScannedFile): Evidence[] {
  const evidence: Evidence[] = [];
  const folder = folderOf(file.path);
  const last = folder.split('/').at(-1)!.toLowerCase();
  if (slot.folder?.toLowerCase() === folder.toLowerCase())
    evidence.push({
      weight: 1.2,
      words: last === '' ? 'In the folder that is written' : `In a folder named ${last}, as written`,
    });
  else if (slot.lastFolder !== undefined && slot.lastFolder !== '..' && slot.lastFolder === last)
    evidence.push({ weight: 0.8, words: `In a folder named ${last}, as written` });
  else if (slot.holders.some((holder) => folderOf(holder) === folder))
    evidence.push({ weight: 0.4, words: 'In the folder of the assembly' });
  const written = `${slot.folder ?? slot.lastFolder ?? ''}/${slot.name}`;
  if (ASIDE.test(file.path) && !ASIDE.test(written))
    evidence.push({ weight: -1.5, isPutAside: true, words: 'Seems to be put aside' });
  if (COPY.test(baseName(file.path)) && !COPY.test(slot.name))
    evidence.push({ weight: -1.2, isPutAside: true, words: 'Seems to be a copy' });
  return evidence;
}

function usageEvidence(slot: Slot, file: ScannedFile, { project, signs }: Known): Evidence[] {
  const users = (project.usedBy.get(file.path) ?? []).filter(({ kind }) => kind === 'component');
  const same = users.find(({ holder }) => slot.holders.includes(holder));
  if (same) return [{ weight: -4, words: `Already used by another link of ${baseName(same.holder)}` }];
  if (users.length > 0) return [{ weight: -2, words: `Already used by ${baseName(users[0]!.holder)}` }];
  if (!signs.leftOver.has(file.path)) return [];
  const isOnlyOne = signs.leftOver.size === 1;
  const share = signs.leftOver.size / Math.max(1, signs.shaped.length);
  return [
    {
      weight: Math.min(2, Math.log(0.97 / share)) + (isOnlyOne && signs.missed === 1 ? 1 : 0),
      words: !isOnlyOne
        ? 'Nothing uses it'
        : `The only file that nothing uses${signs.missed === 1 ? ', and only one is missed' : ''}`,
    },
  ].filter(({ weight }) => weight > 0);
}
