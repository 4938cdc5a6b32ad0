import { someOf } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import {
  holdersIn,
  isOtherContent,
  staleValidations,
  validationsOf,
  withoutValidations,
} from '#core/product/restructure/validation';
import type { Product } from '#core/product/structure';
import type { Draft } from '#core/project/change/draft';
import type { Project } from '#core/project/scan/project';

/** What files say of their size for whoever checks them leaves where it is right no longer: in the file that is changed, and above it. */
export class Checks {
  private isOther = false;

  constructor(
    private readonly project: Project,
    private readonly draft: Draft,
  ) {}

  /** A file that was changed, without the validation properties that do not fit any more. @param before, after its products */
  fittingTo(
    path: string,
    file: Part21File,
    before: readonly Product[],
    after: readonly Product[],
  ): Uint8Array {
    this.isOther = isOtherContent(before, after);
    const stale = staleValidations(validationsOf(file), before, after);
    return this.without(path, file, stale, after);
  }

  /** The assemblies that place the file, where it comes to something else now: they state the size of all of it, too. */
  async fitAbove(path: string): Promise<void> {
    if (!this.isOther) return;
    const { project, draft } = this;
    const seen = new Set([path]);
    for (const changed of seen) {
      const holders = new Map<string, Set<number>>();
      for (const { kind, holder, definitions } of project.usedBy.get(changed) ?? []) {
        if (kind !== 'component') continue;
        const standIns = holders.get(holder) ?? new Set();
        for (const definition of definitions) standIns.add(definition);
        holders.set(holder, standIns);
      }
      for (const [holder, standIns] of holders) {
        const { products } = project.files.get(holder)!.scan;
        const stale = holdersIn(products, standIns);
        const isStated = products.some(
          ({ definition, statedSize }) => statedSize !== undefined && stale.has(definition),
        );
        if (isStated)
          await draft.edit(holder, (bytes) => this.without(holder, Part21File.read(bytes), stale, products));
        seen.add(holder);
      }
    }
  }

  private without(
    path: string,
    file: Part21File,
    stale: ReadonlySet<number>,
    products: readonly Product[],
  ): Uint8Array {
    const stated = validationsOf(file);
    const names = products.flatMap(({ definition, name }) =>
      stale.has(definition) && stated.has(definition) ? [name] : [],
    );
    if (names.length === 0) return file.bytes;
    this.draft.warn(
      `${baseName(path)} stated how large ${someOf(names, 5)} ${names.length === 1 ? 'is' : 'are'}, for whoever checks it: no longer right, and left out.`,
    );
    return withoutValidations(file, stale);
  }
}
