import type { SourceMemory } from '#core/links/source';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import type { Body } from '#core/product/structure';
import { ownProducts } from '#core/scan/content';
import type { Project, ProjectLink } from '#core/scan/project';

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
  product: { id: string; name: string };
  /** Its one body; null when it has none or several: then somebody has worked on it. */
  body: Body | null;
  placings: TiedBody[];
}

/** Everything in a project that came out of one source. */
export interface Ties {
  source: string;
  /** The assembly that puts the bodies together; null when there is none. */
  assembly: { path: string; link: ProjectLink; id: string; name: string } | null;
  /** In the order in which the assembly places them. */
  components: TiedComponent[];
  /** Whether the assembly places nothing but these components. */
  isPure: boolean;
}

/** Finds what came out of a source by a split, with where each body stands. */
export function tiesTo(project: Project, source: string): Ties {
  const links = (project.usedBy.get(source) ?? []).filter(
    ({ source: memory }) => memory?.relation === 'split',
  );
  const whole = links.find((link) => link.source!.bodies.length === 0);
  const assemblyFile = whole && project.files.get(whole.from);
  const top =
    assemblyFile && ownProducts(assemblyFile.scan).find(({ occurrences }) => occurrences.length > 0);
  const placed = new Map<string, Matrix4[]>();
  let isPure = true;
  for (const { child, placement } of top?.occurrences ?? []) {
    const target = (project.uses.get(whole!.from) ?? []).find(
      ({ kind, definitions }) => kind === 'component' && definitions.includes(child),
    )?.to;
    const tied = links.some(({ from }) => from === target);
    if (!target || !tied) isPure = false;
    else placed.set(target, [...(placed.get(target) ?? []), placement]);
  }
  const order = [...placed.keys()];
  const components = links
    .filter((link) => link.source!.bodies.length > 0)
    .sort((a, b) => order.indexOf(a.from) - order.indexOf(b.from))
    .map((link): TiedComponent => {
      const product = ownProducts(project.files.get(link.from)!.scan).find(({ bodies }) => bodies.length > 0);
      const places = placed.get(link.from) ?? [];
      if (whole && places.length !== link.source!.bodies.length) isPure = false;
      return {
        path: link.from,
        link,
        memory: link.source!,
        product: { id: product?.id ?? '', name: product?.name ?? '' },
        body: product?.bodies.length === 1 ? product.bodies[0]! : null,
        placings: link.source!.bodies.map(({ id, name }, n) => ({
          id,
          name,
          placement: places[n] ?? IDENTITY,
        })),
      };
    });
  return {
    source,
    assembly: whole && top ? { path: whole.from, link: whole, id: top.id, name: top.name } : null,
    components,
    isPure,
  };
}

/** Where a component's body stands in the assembly. */
export function standing(component: TiedComponent, placing: TiedBody): Matrix4 {
  return multiply(placing.placement, component.body?.placement ?? IDENTITY);
}
