import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import { madeBy, type Recipe, type SourceMemory } from '#core/product/source/memory';
import type { Body, Product } from '#core/product/structure';
import { ownProducts } from '#core/project/scan/content';
import type { Project, ProjectLink } from '#core/project/scan/project';

/** One placing of a component that came out of a source: an older body, where it stands now. */
export interface TiedBody {
  /** Number and name in the version of the source that was taken. */
  id: number;
  name: string;
  /** In the assembly. */
  placement: Matrix4;
}

/** A component file that came out of a source. */
export interface TiedComponent {
  path: string;
  link: ProjectLink;
  memory: SourceMemory;
  product: Pick<Product, 'id' | 'name' | 'material' | 'use'>;
  /** The body that each of `placings` is of: the one that all of them share, or, in a component of several bodies that
   * belong together, one each. Null when they do not go together any more: then somebody has worked on the file. */
  bodies: Body[] | null;
  /** Several bodies that belong together, placed once. */
  isJoined: boolean;
  placings: TiedBody[];
}

/** Everything in a project that came out of one source. */
export interface Ties {
  source: string;
  /** The assembly that puts the bodies together; null when there is none. */
  assembly: { path: string; link: ProjectLink; id: string; name: string } | null;
  /** In the order in which the assembly places them. */
  components: TiedComponent[];
  /** Links of files whose bodies the source no longer has: they stay, and nothing of the source is theirs to follow. */
  bereft: ProjectLink[];
  /** Whether the assembly places nothing but these components. */
  isPure: boolean;
}

/** Finds what came out of a source by a split, with where each body stands. */
export function tiesTo(project: Project, source: string): Ties {
  const links = (project.usedBy.get(source) ?? []).filter(
    ({ source: memory }) => memory && madeBy(memory) === 'split',
  );
  // A part whose bodies are gone from the source names none either: the assembly is the one that places something.
  const topOf = ({ holder }: ProjectLink) =>
    ownProducts(project.files.get(holder)!.scan).find(({ occurrences }) => occurrences.length > 0);
  const whole = links.find((link) => link.source!.bodies.length === 0 && topOf(link));
  const top = whole && topOf(whole);
  const placed = new Map<string, Matrix4[]>();
  let isPure = true;
  for (const { child, placement } of top?.occurrences ?? []) {
    const target = (project.uses.get(whole!.holder) ?? []).find(
      ({ kind, definitions }) => kind === 'component' && definitions.includes(child),
    )?.to;
    const tied = links.some(({ holder }) => holder === target);
    if (!target || !tied) isPure = false;
    else placed.set(target, [...(placed.get(target) ?? []), placement]);
  }
  const order = [...placed.keys()];
  const components = links
    .filter((link) => link.source!.bodies.length > 0)
    .sort((a, b) => order.indexOf(a.holder) - order.indexOf(b.holder))
    .map((link): TiedComponent => {
      const product = ownProducts(project.files.get(link.holder)!.scan).find(
        ({ bodies }) => bodies.length > 0,
      );
      const places = placed.get(link.holder) ?? [];
      const taken = link.source!.bodies;
      const own = product?.bodies ?? [];
      const isJoined = own.length > 1 && own.length === taken.length && places.length <= 1;
      if (whole && places.length !== (isJoined ? 1 : taken.length)) isPure = false;
      return {
        path: link.holder,
        link,
        memory: link.source!,
        product: {
          id: product?.id ?? '',
          name: product?.name ?? '',
          material: product?.material,
          use: product?.use,
        },
        bodies: isJoined ? own : own.length === 1 ? taken.map(() => own[0]!) : null,
        isJoined,
        placings: taken.map(({ id, name }, n) => ({
          id,
          name,
          placement: places[isJoined ? 0 : n] ?? IDENTITY,
        })),
      };
    });
  return {
    source,
    assembly: whole && top ? { path: whole.holder, link: whole, id: top.id, name: top.name } : null,
    components,
    bereft: links.filter((link) => link.source!.bodies.length === 0 && link !== whole),
    isPure,
  };
}

/** How the source was split: what the assembly remembers, else a component of it. */
export function recipeIn({ assembly, components }: Ties): Recipe | undefined {
  return assembly ? assembly.link.source?.recipe : components[0]?.memory.recipe;
}

/** Where the body of a placing stands in the assembly. */
export function placementOfBody({ bodies, placings }: TiedComponent, n: number): Matrix4 {
  return multiply(placings[n]!.placement, bodies?.[n]?.placement ?? IDENTITY);
}
