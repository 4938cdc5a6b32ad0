import { append } from '#core/multimap';
import { LINK_KINDS } from '#core/project/formats/kinds';
import {
  type Designation,
  offeredBy,
  sameStatedSize,
  VolumeIndex,
  wantedBy,
  wordsOf,
} from '#core/project/scan/designations';
import { FitChecker } from '#core/project/scan/fit';
import type { Project, ScannedFile } from '#core/project/scan/project';
import type { Steps } from '#core/steps';
import type { Slot } from './slots';

/*
 * How much the signs by which a file is recognised mean in one project. Some systems give every part an id of its own, some call
 * every part `MASTER`, some write one thing into the assembly and another into the part. The links that hold show which.
 */

/** Files in other formats than STEP can be components too, but never something that has no shape. */
const SHAPED = new Set(['part', 'assembly', 'mesh']);

export function isShaped({ scan }: ScannedFile): boolean {
  return SHAPED.has(scan.role);
}

/** So many files or links are gone through between rests. */
const RESTS = 64;

/** More than this many carriers, or this part of all files, and a word tells no part from another. */
const FEW_CARRIERS = 2;
const FEW_OF_ALL = 1 / 3;

/** Trust that is given before anything was seen, and the most that is ever given. */
const MOST_TRUST = 0.97;

/** What a slot that nobody carries the words of tells against the ids of a project, where sound links can be compared; else all of it. */
const UNCARRIED = 0.3;

/** What a file offers, as it is compared. */
export interface Offer {
  designations: readonly Designation[];
  words: ReadonlySet<string>;
}

/** The signs of one project. Cost grows with files and links. */
export class ProjectSigns {
  /** Files that may be a component. */
  readonly shaped: ScannedFile[] = [];
  /** Shaped files that nothing places and that place nothing themselves: what is left over. */
  readonly leftOver = new Set<string>();
  private readonly carried = new Map<string, string[]>();
  /** How many parts are asked for by a word: slots, and files that sound links lead to. */
  private readonly askedBy = new Map<string, number>();
  /** How many slots miss a component. */
  missed = 0;
  private readonly volumes = new VolumeIndex<string>();
  private readonly offers = new Map<string, Offer>();
  private readonly fitting = new Map<string, { fit: number; misfit: number }>();
  private trust = 0;

  static *steps(project: Project, slots: readonly Slot[]): Steps<ProjectSigns> {
    const signs = new ProjectSigns();
    yield* signs.readFiles(project);
    signs.readSlots(slots);
    yield* signs.readLinks(project, slots);
    return signs;
  }

  private *readFiles(project: Project): Steps<void> {
    let steps = 0;
    for (const file of project.files.values()) {
      if (steps++ % RESTS === 0) yield;
      if (!isShaped(file)) continue;
      this.shaped.push(file);
      const { words, designations } = this.offerOf(file);
      for (const word of words) append(this.carried, word, file.path);
      this.volumes.add(file.path, designations);
      const isPlaced = (project.usedBy.get(file.path) ?? []).some(({ kind }) => LINK_KINDS[kind].places);
      if (!isPlaced && file.scan.role !== 'assembly') this.leftOver.add(file.path);
    }
  }

  private readSlots(slots: readonly Slot[]): void {
    for (const { wanted, part } of slots) {
      if (part === null) continue;
      this.missed++;
      this.askFor(wanted);
    }
  }

  private askFor(wanted: readonly Designation[]): void {
    for (const word of wordsOf(wanted)) this.askedBy.set(word, (this.askedBy.get(word) ?? 0) + 1);
  }

  private *readLinks(project: Project, slots: readonly Slot[]): Steps<void> {
    const checker = new FitChecker(project.files);
    let [fits, misfits] = [0, 0];
    const asked = new Set<string>();
    let steps = 0;
    for (const link of project.links) {
      if (steps++ % RESTS === 0) yield;
      if (link.kind !== 'component' || link.to === null) continue;
      if (!asked.has(link.to)) this.askFor(wantedBy(project.files.get(link.holder)!.scan, link.definitions));
      asked.add(link.to);
      const fit = checker.fits(link);
      if (fit === undefined) continue;
      const known = this.fitting.get(link.holder) ?? { fit: 0, misfit: 0 };
      known[fit ? 'fit' : 'misfit']++;
      if (fit) fits++;
      else misfits++;
      this.fitting.set(link.holder, known);
    }
    const asking = slots.filter(({ part, words }) => part !== null && words.size > 0);
    const carried = asking.filter(({ words }) => [...words].some((word) => this.carried.has(word))).length;
    const uncarried = (fits + misfits > 0 ? UNCARRIED : 1) * (asking.length - carried);
    this.trust = (fits + carried + 1) / (fits + misfits + carried + uncarried + 2);
  }

  /** How far the stand-ins of a slot's holders are to be believed, 0 to 1. */
  trustIn({ holders }: Slot): number {
    let [fit, all] = [0, 0];
    for (const holder of new Set(holders)) {
      const known = this.fitting.get(holder);
      fit += known?.fit ?? 0;
      all += (known?.fit ?? 0) + (known?.misfit ?? 0);
    }
    return Math.min(MOST_TRUST, (fit + 2 * this.trust) / (all + 2));
  }

  offerOf(file: ScannedFile): Offer {
    let offer = this.offers.get(file.path);
    if (!offer) {
      const designations = offeredBy(file.scan);
      offer = { designations, words: wordsOf(designations) };
      this.offers.set(file.path, offer);
    }
    return offer;
  }

  /** The files that carry a word. */
  carriersOf(word: string): readonly string[] {
    return this.carried.get(word) ?? [];
  }

  /** Among how many a word leaves one open: files that carry it, or slots that ask for it. */
  sharers(word: string): number {
    return Math.max(1, this.carriersOf(word).length, this.askedBy.get(word) ?? 0);
  }

  isAskedFor(word: string): boolean {
    return this.askedBy.has(word);
  }

  /** Whether a word tells one part from the others. */
  isTelling(word: string): boolean {
    return this.carriersOf(word).length <= Math.max(FEW_CARRIERS, this.shaped.length * FEW_OF_ALL);
  }

  /** The files that state the volume that a slot asks for. */
  ofTheVolume({ wanted }: Slot): readonly string[] {
    return this.volumes.like(wanted);
  }

  statesTheSize({ wanted }: Slot, file: ScannedFile): boolean | undefined {
    return sameStatedSize(wanted, this.offerOf(file).designations);
  }
}
