import { baseName } from '#core/files/links/paths';
import type { Product } from '#core/product/structure';
import { type ContentScan, productsByDefinition, topProductsOf } from './content';

/*
 * Whether a component link leads to the part that its holder asks for. A stand-in carries the id and the name of the part; what
 * a file offers are the products at its top. Many systems write ids that say nothing (every part is `MASTER`), so a link is only
 * doubted where the holder's other links show that its stand-ins are to be believed.
 */

/** What a stand-in asks for, or a file offers. */
export interface Designation {
  id: string;
  name: string;
}

interface Scanned {
  path: string;
  scan: ContentScan;
}

/** A component link as far as its fit is concerned. */
export interface FittingLink {
  definitions: readonly number[];
  to: string | null;
  /** Found by its name alone, in another folder than the link says. */
  isFar: boolean;
}

const fold = (text: string) => text.trim().toLowerCase();

/** What the holder asks for with a link: its stand-ins. */
export function wantedBy({ scan }: Scanned, definitions: readonly number[]): Product[] {
  const products = productsByDefinition(scan);
  return definitions.flatMap((definition) => products.get(definition) ?? []);
}

/** Whether two say the same part by id or by name; undefined where one of them says nothing. */
export function agree(wanted: readonly Designation[], offered: readonly Designation[]): boolean | undefined {
  // Mostly the ids are the same to the letter.
  const [first, other] = [wanted[0], offered[0]];
  if (first && other && first.id !== '' && first.id === other.id) return true;
  const words = (all: readonly Designation[]) =>
    new Set(
      all
        .flatMap(({ id, name }) => [fold(id), fold(name)])
        .filter((word) => word !== '' && !/^#\d+$/.test(word)),
    );
  const [asked, given] = [words(wanted), words(offered)];
  if (asked.size === 0 || given.size === 0) return undefined;
  return [...asked].some((word) => given.has(word));
}

/** Finds links that lead to another part than their holder asks for. Linear in links; carriers are only looked up when needed. */
export class FitChecker {
  private carriers: Map<string, string[]> | undefined;
  private readonly offers = new Map<string, Designation[]>();

  constructor(private readonly files: ReadonlyMap<string, Scanned>) {}

  /** Whether a link fits its target; undefined where that cannot be told. */
  fits(holder: Scanned, { definitions, to }: Omit<FittingLink, 'isFar'>): boolean | undefined {
    return to === null ? undefined : agree(wantedBy(holder, definitions), this.offeredBy(to));
  }

  /**
   * The links of one holder that lead to a wrong part, each with the reason in one sentence and the files that carry the id
   * that is asked for.
   */
  doubted<Link extends FittingLink>(
    holder: Scanned,
    links: readonly Link[],
  ): { link: Link; reason: string; carriers: string[] }[] {
    const known = links.map((link) => ({ link, fits: this.fits(holder, link) }));
    const misfits = known.flatMap(({ link, fits }) => (fits === false ? [link] : []));
    if (misfits.length === 0) return [];
    const fitting = known.filter(({ fits }) => fits === true).length;
    const others = misfits.length - 1;
    return misfits.flatMap((link) => {
      const wanted = wantedBy(holder, link.definitions);
      const carriers = this.carriersOf(wanted, [holder.path, link.to!]);
      const only = carriers.length === 1 ? carriers[0]! : undefined;
      const isSwap = misfits.some(
        (other) =>
          other.to === only &&
          only !== undefined &&
          this.carriersOf(wantedBy(holder, other.definitions), [holder.path, other.to]).includes(link.to!),
      );
      const isDoubted =
        fitting > others ||
        (fitting > 0 && only !== undefined) ||
        (link.isFar && fitting >= others) ||
        isSwap;
      if (!isDoubted) return [];
      return [{ link, reason: this.reason(link, wanted, fitting, carriers), carriers }];
    });
  }

  private reason(
    { to, isFar }: FittingLink,
    [wanted]: readonly Designation[],
    fitting: number,
    carriers: readonly string[],
  ): string {
    const found = isFar ? 'the only file of that name' : 'where the link says';
    const offered = this.offeredBy(to!)[0]!;
    const others =
      fitting === 0 ? '' : fitting === 1 ? ', and another link fits' : `, and ${fitting} other links fit`;
    const carrier = carriers.length === 1 ? ` ${baseName(carriers[0]!)} is that part.` : '';
    return `${baseName(to!)}, ${found}, is ${called(offered)}, not ${called(wanted!)} as asked for${others}.${carrier}`;
  }

  /** The files that carry the id that is asked for, but for some; none where many carry it. */
  private carriersOf(wanted: readonly Designation[], but: readonly string[]): string[] {
    this.carriers ??= this.readCarriers();
    const all = new Set(wanted.flatMap(({ id }) => this.carriers!.get(fold(id)) ?? []));
    return [...all].filter((path) => !but.includes(path)).sort();
  }

  private readCarriers(): Map<string, string[]> {
    const carriers = new Map<string, string[]>();
    for (const path of this.files.keys())
      for (const { id } of this.offeredBy(path)) {
        if (id.trim() === '') continue;
        const known = carriers.get(fold(id));
        if (known) known.push(path);
        else carriers.set(fold(id), [path]);
      }
    return carriers;
  }

  private offeredBy(path: string): Designation[] {
    let offered = this.offers.get(path);
    if (!offered) {
      const scan = this.files.get(path)?.scan;
      offered = scan && scan.error === null ? topProductsOf(scan) : [];
      this.offers.set(path, offered);
    }
    return offered;
  }
}

function called({ id, name }: Designation): string {
  return id === '' || id === name ? name : name === '' ? id : `${name} (${id})`;
}
