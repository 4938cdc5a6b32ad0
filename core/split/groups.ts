import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import type { Body } from '#core/product/structure';
import { findCongruent } from '#core/shape/congruence/congruence';
import type { ShapeFeature } from '#core/shape/features';
import type { BodyFacts } from '#core/shape/kernel';
import type { SplitChoices } from './choices';
import { placedShape } from './placed-shape';
import type { SourcePart } from './source-part';

/** What the kernel found out about a body; without features when it refused the body. */
export interface MeasuredBody {
  facts?: BodyFacts;
  features?: ShapeFeature[];
  error?: string;
}

/** Bodies that become one component: one shape, placed as often as there are members. */
export interface SplitGroup {
  representative: Body;
  /** Each with the motion that takes the representative to it, in the source's coordinates, mm. */
  members: { body: Body; motion: Matrix4 }[];
  /** Index of the group that is its mirror image. */
  mirrorOf: number | null;
}

/** The bodies that a choice takes: all solids, open surfaces when wanted, or those that were named. */
export function chosenBodies(source: SourcePart, choices: SplitChoices): Body[] {
  const wanted = choices.bodies === null ? null : new Set(choices.bodies);
  return source.bodies.filter(({ id, kind }) =>
    wanted ? wanted.has(id) : kind === 'solid' || choices.surfaces,
  );
}

/** Puts the chosen bodies into components. A body that the kernel refused is a component of its own. */
export function groupBodies(
  source: SourcePart,
  choices: SplitChoices,
  measured: ReadonlyMap<number, MeasuredBody>,
): SplitGroup[] {
  const bodies = chosenBodies(source, choices);
  const alone = (body: Body): SplitGroup => ({
    representative: body,
    members: [{ body, motion: IDENTITY }],
    mirrorOf: null,
  });
  if (!choices.merge) return bodies.map(alone);
  const known = bodies.flatMap((body) => {
    const shape = placedShape(measured.get(body.id) ?? {}, IDENTITY);
    return shape ? [{ body, shape }] : [];
  });

  const found = findCongruent(
    known.map(({ shape }) => shape),
    {
      relative: choices.tolerance,
      least: source.uncertainty,
      keyOf: (n) => {
        const { kind, colour, name } = known[n]!.body;
        return [kind, choices.coloursApart && colour, choices.namesApart && name].join('|');
      },
    },
  );
  const groups = found.map(({ members, mirrorOf }): SplitGroup => {
    const first = known[members[0]!.body]!.body;
    return {
      representative: first,
      members: members.map(({ body, placement }) => ({ body: known[body]!.body, motion: placement })),
      mirrorOf,
    };
  });
  const grouped = new Set(known.map(({ body }) => body.id));
  return [...groups, ...bodies.filter(({ id }) => !grouped.has(id)).map(alone)];
}

/** Where a member's component stands in the assembly, given where the part's origin lies on the representative. */
export function placingOf(member: SplitGroup['members'][number], origin: Matrix4): Matrix4 {
  // The part holds the representative as it is modelled; where the source puts this member, the assembly puts it now.
  return multiply(member.body.placement ?? IDENTITY, multiply(member.motion, origin));
}
