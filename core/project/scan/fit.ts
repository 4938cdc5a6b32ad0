import { findLoops } from '#core/files/links/loops';
import { baseName } from '#core/files/links/paths';
import { append, groupBy } from '#core/multimap';
import { atOnce, type Steps } from '#core/steps';
import type { ContentScan } from './content';
import {
  type Designation,
  fold,
  isGeneric,
  offeredBy,
  sameStatedSize,
  VolumeIndex,
  wantedBy,
  wordsOf,
} from './designations';

/*
 * Whether a component link leads to the part that its holder asks for. A stand-in carries the id and the name of the part, and
 * with some systems its volume; what a file offers are the products at its top. Many systems write ids that say nothing, or one
 * thing into the assembly and another into the part. So a link is only doubted where the holder's other links show that its
 * stand-ins are to be believed, or where files were permuted: each has what another is asked for, round in a circle, across the
 * whole project.
 */

interface Scanned {
  path: string;
  scan: ContentScan;
}

/** A component link as far as its fit is concerned. */
export interface FittingLink {
  holder: string;
  definitions: readonly number[];
  to: string | null;
  /** Found by its name alone, in another folder than the link says. */
  isFar: boolean;
}

/** A link that leads to a wrong part: why, in one sentence, and the files that carry what is asked for. */
export interface Doubt<Link> {
  link: Link;
  reason: string;
  carriers: string[];
}

/** What more files than this carry, tells nothing of which is meant. */
const FEW = 3;

/** So many links are gone through between rests. */
const RESTS = 64;

/** Whether two say the same part by id or by name; undefined where one of them says nothing. */
export function agree(wanted: readonly Designation[], offered: readonly Designation[]): boolean | undefined {
  // Mostly the ids are the same to the letter.
  const [first, other] = [wanted[0]?.id, offered[0]?.id];
  if (first !== undefined && first === other && !isGeneric(fold(first))) return true;
  const [asked, there] = [wordsOf(wanted), wordsOf(offered)];
  if (asked.size === 0 || there.size === 0) return undefined;
  for (const word of asked) if (there.has(word)) return true;
  return false;
}

/** One link that was held against its target. */
interface Compared<Link> {
  link: Link;
  wanted: Designation[];
  fits: boolean | undefined;
  /** For a misfit: the few files that carry what is asked for. */
  carriers: string[];
}

/** Finds links that lead to another part than their holder asks for. Linear in links; what else is asked or offered is only read when needed. */
export class FitChecker {
  private readonly offers = new Map<string, Designation[]>();
  private offered: { byWord: Map<string, string[]>; byVolume: VolumeIndex<string> } | undefined;

  constructor(private readonly files: ReadonlyMap<string, Scanned>) {}

  /** Whether a link fits its target; undefined where that cannot be told. An equal volume outweighs words. */
  fits({ holder, definitions, to }: Omit<FittingLink, 'isFar'>): boolean | undefined {
    if (to === null) return undefined;
    const [wanted, offered] = [this.wanted(holder, definitions), this.offeredBy(to)];
    return sameStatedSize(wanted, offered) || agree(wanted, offered);
  }

  doubted<Link extends FittingLink>(links: readonly Link[]): Doubt<Link>[] {
    return atOnce(this.doubtedSteps(links));
  }

  /** The links that lead to a wrong part. @param links all component links of the project that lead anywhere */
  *doubtedSteps<Link extends FittingLink>(links: readonly Link[]): Steps<Doubt<Link>[]> {
    // 1. Each link against its target.
    const compared: Compared<Link>[] = [];
    for (const link of links) {
      if (compared.length % RESTS === 0) yield;
      const wanted = this.wanted(link.holder, link.definitions);
      compared.push({ link, wanted, fits: this.fits(link), carriers: [] });
    }
    yield* this.findOtherMisfits(compared);
    const misfits = compared.filter(({ fits }) => fits === false);
    if (misfits.length === 0) return [];

    // 2. Files that were permuted: each is what another link misses.
    const leads = new Map<string, string[]>();
    for (const [n, misfit] of misfits.entries()) {
      if (n % RESTS === 0) yield;
      misfit.carriers = this.carriersOf(misfit);
      const isFew = misfit.carriers.length <= FEW;
      for (const carrier of isFew ? misfit.carriers : []) append(leads, misfit.link.to!, carrier);
    }
    const circles = findLoops(leads);

    // 3. Those whose neighbours speak for the stand-ins.
    const byHolder = groupBy(compared, ({ link }) => link.holder);
    const fitting = (all: readonly Compared<Link>[]) => all.filter(({ fits }) => fits).length;
    const isProjectSound = fitting(compared) >= misfits.length;
    const doubts: Doubt<Link>[] = [];
    let steps = 0;
    for (const [holder, own] of groupBy(misfits, ({ link }) => link.holder)) {
      if (steps++ % RESTS === 0) yield;
      const fits = fitting(byHolder.get(holder)!);
      for (const misfit of own) {
        const { link, carriers } = misfit;
        const circle = circles.get(link.to!);
        const isPermuted =
          circle !== undefined && carriers.some((carrier) => circles.get(carrier) === circle);
        const isDoubted =
          isPermuted ||
          fits >= own.length ||
          (fits > 0 && isProjectSound && carriers.length === 1) ||
          (link.isFar && fits >= own.length - 1);
        if (isDoubted) doubts.push({ link, reason: this.reason(misfit, fits), carriers });
      }
    }
    return doubts;
  }

  /**
   * Links that seem to fit, or say nothing, and yet are wrong: the volume that is asked for is another file's alone; or a family
   * shares an id, and the name is another file's alone while the target is asked for elsewhere.
   */
  private *findOtherMisfits<Link extends FittingLink>(compared: Compared<Link>[]): Steps<void> {
    const unsure = compared.filter(({ link, wanted, fits }) => {
      if (fits === false) return false;
      const [offered] = this.offeredBy(link.to!);
      const [asked] = wanted;
      // Mostly they are the same to the letter.
      return !(
        asked &&
        offered &&
        asked.id === offered.id &&
        asked.name === offered.name &&
        !asked.statedSize
      );
    });
    if (unsure.length === 0) return;
    const asked = new Map<string, number>();
    for (const [n, { wanted }] of compared.entries()) {
      if (n % RESTS === 0) yield;
      for (const word of wordsOf(wanted)) asked.set(word, (asked.get(word) ?? 0) + 1);
    }
    for (const [n, one] of unsure.entries()) {
      if (n % RESTS === 0) yield;
      const { link, wanted } = one;
      const offered = this.offeredBy(link.to!);
      const size = sameStatedSize(wanted, offered);
      if (size === true) continue;
      if (size === false && one.fits !== true) {
        const others = this.carriers().byVolume.like(wanted);
        if (others.length === 1 && others[0] !== link.holder) one.fits = false;
        continue;
      }
      const [mine, theirs] = [wordsOf(wanted), wordsOf(offered)];
      const isAnothers = [...mine].some((word) => {
        const [only, ...more] = this.carriers().byWord.get(word) ?? [];
        return only !== undefined && more.length === 0 && only !== link.to && only !== link.holder;
      });
      const isAskedElsewhere = [...theirs].some(
        (word) => !mine.has(word) && asked.has(word) && this.carriers().byWord.get(word)?.length === 1,
      );
      if (isAnothers && isAskedElsewhere) one.fits = false;
    }
  }

  private reason<Link extends FittingLink>({ link, wanted, carriers }: Compared<Link>, fits: number): string {
    const [asked] = wanted;
    const [offered] = this.offeredBy(link.to!);
    const target = `${baseName(link.to!)}, ${link.isFar ? 'the only file of that name' : 'where the link says'},`;
    const hasOtherVolume =
      agree(wanted, this.offeredBy(link.to!)) === undefined &&
      sameStatedSize(wanted, this.offeredBy(link.to!)) === false;
    const what = hasOtherVolume
      ? 'has another volume than is asked for'
      : `is ${called(offered!)}, not ${called(asked!)} as asked for`;
    const others = fits === 0 ? '' : fits === 1 ? ', and another link fits' : `, and ${fits} other links fit`;
    const carrier = carriers.length === 1 ? ` ${baseName(carriers[0]!)} is that part.` : '';
    return `${target} ${what}${others}.${carrier}`;
  }

  /** The other files that carry the volume that is asked for, else the id or name; the words that the fewest carry count. */
  private carriersOf({ link, wanted }: Pick<Compared<FittingLink>, 'link' | 'wanted'>): string[] {
    const isOther = (path: string) => path !== link.holder && path !== link.to;
    const byVolume = this.carriers().byVolume.like(wanted).filter(isOther);
    if (byVolume.length > 0) return byVolume.sort();
    const all = [...wordsOf(wanted)]
      .map((word) => (this.carriers().byWord.get(word) ?? []).filter(isOther))
      .filter(({ length }) => length > 0)
      .sort((a, b) => a.length - b.length);
    return [...(all[0] ?? [])].sort();
  }

  private carriers() {
    if (!this.offered) {
      const byWord = new Map<string, string[]>();
      const byVolume = new VolumeIndex<string>();
      for (const path of this.files.keys()) {
        const offered = this.offeredBy(path);
        for (const word of wordsOf(offered)) append(byWord, word, path);
        byVolume.add(path, offered);
      }
      this.offered = { byWord, byVolume };
    }
    return this.offered;
  }

  private wanted(holder: string, definitions: readonly number[]): Designation[] {
    const file = this.files.get(holder);
    return file ? wantedBy(file.scan, definitions) : [];
  }

  private offeredBy(path: string): Designation[] {
    let offered = this.offers.get(path);
    if (!offered) {
      const scan = this.files.get(path)?.scan;
      offered = scan ? offeredBy(scan) : [];
      this.offers.set(path, offered);
    }
    return offered;
  }
}

function called({ id, name }: Designation): string {
  return id === '' || id === name ? name : name === '' ? id : `${name} (${id})`;
}
