import type { SourcePart } from '#core/geometry/bodies/source-part';
import type { BodyFacts } from '#core/geometry/shape/body';
import { findCongruent } from '#core/geometry/shape/congruence/congruence';
import { type MeasuredBody, placedShape } from '#core/geometry/shape/placed-shape';
import { groupBy } from '#core/multimap';
import { appearanceKey } from '#core/product/appearance';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import type { Body } from '#core/product/structure';
import { appearanceOfBody, nameOfBody, type SplitChoices } from './choices';

/**
 * Bodies that become one component: one shape, placed as often as there are members; or several bodies that belong
 * together, placed once.
 */
export interface SplitGroup {
  representative: Body;
  /** More bodies of the same component; then there is one member. */
  joined: Body[];
  /** Each with the motion that takes the representative to it, in the source's coordinates, mm. */
  members: { body: Body; motion: Matrix4 }[];
  /** Index of the group that is its mirror image. */
  mirrorOf: number | null;
}

/** Every body of the source that a group takes. */
export function bodiesIn({ members, joined }: SplitGroup): Body[] {
  return [...members.map(({ body }) => body), ...joined];
}

/** Facts that can be summed up over several bodies. */
export type GroupFacts = Omit<BodyFacts, 'moments'>;

/** What the kernel knows of a component: of its body, or of all its bodies together. */
export function factsOfGroup(
  { representative, joined }: SplitGroup,
  measured: ReadonlyMap<number, MeasuredBody>,
): GroupFacts | undefined {
  const facts = [representative, ...joined].map(({ id }) => measured.get(id)?.facts);
  const [first, ...others] = facts;
  if (!first || others.length === 0) return first;
  if (others.some((other) => other === undefined)) return undefined;
  return (others as BodyFacts[]).reduce<GroupFacts>((all, other) => {
    const volume = all.volume + other.volume;
    const share = volume > 0 ? other.volume / volume : 0;
    return {
      volume,
      area: all.area + other.area,
      centre: all.centre.map((value, n) => value + (other.centre[n]! - value) * share) as BodyFacts['centre'],
      box: all.box.map((value, n) =>
        n < 3 ? Math.min(value, other.box[n]!) : Math.max(value, other.box[n]!),
      ) as BodyFacts['box'],
      boxTolerance: Math.max(all.boxTolerance, other.boxTolerance),
      faces: all.faces + other.faces,
    };
  }, first);
}

/** The bodies that a choice takes: all solids, open surfaces when wanted, or those that were named. */
export function chosenBodies(source: SourcePart, choices: SplitChoices): Body[] {
  const wanted = choices.bodies === null ? null : new Set(choices.bodies);
  return source.bodies.filter(({ id, kind }) =>
    wanted ? wanted.has(id) : kind === 'solid' || choices.surfaces,
  );
}

/**
 * Puts the chosen bodies into components, in the order of the source. A body that the kernel refused is a component of
 * its own.
 */
export function groupBodies(
  source: SourcePart,
  choices: SplitChoices,
  measured: ReadonlyMap<number, MeasuredBody>,
): SplitGroup[] {
  const chosen = chosenBodies(source, choices);
  const together = joinedBodies(chosen, choices).map(
    ([first, ...others]): SplitGroup => ({
      representative: first!,
      joined: others,
      members: [{ body: first!, motion: IDENTITY }],
      mirrorOf: null,
    }),
  );
  const taken = new Set(together.flatMap(bodiesIn));
  const bodies = chosen.filter((body) => !taken.has(body));
  const groups = choices.merge ? congruentGroups(source, choices, measured, bodies) : sameGroups(bodies);
  return together.length === 0 ? groups : inOrder([...together, ...groups], source.bodies);
}

/** One component for each body, wherever and however often it is placed. */
function sameGroups(bodies: readonly Body[]): SplitGroup[] {
  return [...groupBy(bodies, ({ id }) => id).values()].map((placed) => ({
    representative: placed[0]!,
    joined: [],
    members: placed.map((body) => ({ body, motion: IDENTITY })),
    mirrorOf: null,
  }));
}

/**
 * Sets of bodies that shall become one component each; what is not chosen stays out, and so is a body that is placed several
 * times: it would stand in the component as often.
 */
function joinedBodies(chosen: readonly Body[], { together }: SplitChoices): Body[][] {
  const byId = groupBy(chosen, ({ id }) => id);
  const free = new Set(chosen.filter(({ id }) => byId.get(id)!.length === 1));
  return together.flatMap((ids) => {
    const set = chosen.filter((body) => free.has(body) && ids.includes(body.id));
    for (const body of set) free.delete(body);
    return set.length > 1 ? [set] : [];
  });
}

function inOrder(groups: readonly SplitGroup[], bodies: readonly Body[]): SplitGroup[] {
  const at = new Map(bodies.map((body, n) => [body, n]));
  const first = (group: SplitGroup) => Math.min(...bodiesIn(group).map((body) => at.get(body)!));
  const order = groups.map((_, n) => n).sort((a, b) => first(groups[a]!) - first(groups[b]!));
  const now = new Map(order.map((before, after) => [before, after]));
  // Mirror images are named by their place among the groups that were searched, which follow the joined ones.
  const ahead = groups.filter(({ joined }) => joined.length > 0).length;
  return order.map((n) => {
    const group = groups[n]!;
    return group.mirrorOf === null ? group : { ...group, mirrorOf: now.get(group.mirrorOf + ahead)! };
  });
}

function congruentGroups(
  source: SourcePart,
  choices: SplitChoices,
  measured: ReadonlyMap<number, MeasuredBody>,
  bodies: readonly Body[],
): SplitGroup[] {
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
        const { body } = known[n]!;
        return [
          body.kind,
          choices.coloursApart && appearanceKey(appearanceOfBody(choices, body)),
          choices.namesApart && nameOfBody(choices, body),
          // The same shape of another material is another part, whatever else is chosen.
          choices.materials[String(body.id)],
        ].join('|');
      },
    },
  );
  const groups = found.map(({ members, mirrorOf }): SplitGroup => {
    const first = known[members[0]!.body]!.body;
    return {
      representative: first,
      joined: [],
      members: members.map(({ body, placement }) => ({ body: known[body]!.body, motion: placement })),
      mirrorOf,
    };
  });
  const grouped = new Set(known.map(({ body }) => body.id));
  return [...groups, ...sameGroups(bodies.filter(({ id }) => !grouped.has(id)))];
}

/** Where a member's component stands in the assembly, given where the part's origin lies on the representative. */
export function placingOf(member: SplitGroup['members'][number], origin: Matrix4): Matrix4 {
  // The part holds the representative as it is modelled; where the source puts this member, the assembly puts it now.
  return multiply(member.body.placement ?? IDENTITY, multiply(member.motion, origin));
}
