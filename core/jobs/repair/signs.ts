import { baseName } from '#core/files/links/paths';
import { isBroken } from '#core/files/links/resolve';
import type { Product } from '#core/product/structure';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { ownProducts, topProductsOf } from '#core/project/scan/content';
import { FitChecker } from '#core/project/scan/fit';
import type { Project, ProjectLink, ScannedFile } from '#core/project/scan/project';
import type { Steps } from '#core/steps';

/*
 * How much the signs by which a file is recognised mean in one project. Some systems give every part an id of its own, some call
 * every part `MASTER`, some write one thing into the assembly and another into the part. The links that hold show which.
 */

/** Files in other formats than STEP can be components too, but never something that has no shape. */
const SHAPED = new Set(['part', 'assembly', 'mesh']);

export function isShaped({ scan }: ScannedFile): boolean {
  return SHAPED.has(scan.role);
}

/** What a file offers to a stand-in: what stands at its top. */
export function offeredBy({ scan }: ScannedFile): Product[] {
  const tops = topProductsOf(scan);
  return tops.length > 0 ? tops : ownProducts(scan);
}

/** So many files or links are gone through between rests. */
const RESTS = 64;

const fold = (text: string) => text.trim().toLowerCase();

/** The signs of one project, found once. Cost grows with files and links. */
export class ProjectSigns {
  private readonly byId = new Map<string, number>();
  private readonly byName = new Map<string, number>();
  private readonly fitting = new Map<string, { fit: number; misfit: number }>();
  /** Shaped files that nothing places and that place nothing themselves: what is left over. */
  readonly leftOver = new Set<string>();
  /** How many different files are missed, by the names that are written. */
  missed = 0;

  private static readonly known = new WeakMap<Project, ProjectSigns>();

  private constructor() {}

  static *steps(project: Project): Steps<ProjectSigns> {
    const known = ProjectSigns.known.get(project);
    if (known) return known;
    const signs = new ProjectSigns();
    yield* signs.readFiles(project);
    yield* signs.readLinks(project);
    ProjectSigns.known.set(project, signs);
    return signs;
  }

  private *readFiles(project: Project): Steps<void> {
    const count = (map: Map<string, number>, words: Iterable<string>) => {
      for (const word of new Set(words)) if (word !== '') map.set(word, (map.get(word) ?? 0) + 1);
    };
    let steps = 0;
    for (const file of project.files.values()) {
      if (steps++ % RESTS === 0) yield;
      if (!isShaped(file)) continue;
      const offered = offeredBy(file);
      count(
        this.byId,
        offered.map(({ id }) => fold(id)),
      );
      count(
        this.byName,
        offered.map(({ name }) => fold(name)),
      );
      const isPlaced = (project.usedBy.get(file.path) ?? []).some(({ kind }) => LINK_KINDS[kind].places);
      if (!isPlaced && file.scan.role !== 'assembly') this.leftOver.add(file.path);
    }
  }

  private *readLinks(project: Project): Steps<void> {
    const checker = new FitChecker(project.files);
    const missed = new Set<string>();
    let steps = 0;
    for (const link of project.links) {
      if (steps++ % RESTS === 0) yield;
      if (link.kind !== 'component') continue;
      if (link.state === 'missing') missed.add(baseName(link.written).toLowerCase());
      if (isBroken(link.state)) continue;
      const fits = checker.fits(project.files.get(link.holder)!, link);
      if (fits === undefined) continue;
      const known = this.fitting.get(link.holder) ?? { fit: 0, misfit: 0 };
      known[fits ? 'fit' : 'misfit']++;
      this.fitting.set(link.holder, known);
    }
    this.missed = missed.size;
  }

  /** How many files carry an id, or a name. */
  carriers(sign: 'id' | 'name', value: string): number {
    return (sign === 'id' ? this.byId : this.byName).get(fold(value)) ?? 0;
  }

  /**
   * How far the stand-ins of a holder are to be believed, 0 to 1: the part of its sound links that fit. Where none can be
   * compared, they are.
   */
  trustIn({ holder }: ProjectLink): number {
    const { fit, misfit } = this.fitting.get(holder) ?? { fit: 0, misfit: 0 };
    return fit + misfit === 0 ? 1 : fit / (fit + misfit);
  }
}
