import { createHash } from 'node:crypto';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { commonOf } from '#core/geometry/solids/common-space';
import type { PlanContext } from '#core/planning';
import type { Joint } from './choices';
import { AT_REST, FREE, type Freedom } from './freedoms';
import { Mechanism } from './motion';
import type { Proposal } from './propose';
import { WITHIN } from './solid-groups';

/** Two groups that have space in common somewhere on their way. */
export interface Overlap {
  groups: [string, string];
  /** mm³ */
  volume: number;
  /** Where, in words; null for the model as it is drawn. */
  where: string | null;
}

/** So many places of a joint are looked at, from one end of its way to the other. */
const STEPS = 9;
/** So many are told of. */
const MOST_TOLD = 5;
/** Curved surfaces of both lie off by as much. */
const THIN = 2 * WITHIN;

/** Looks where groups run into each other: as drawn, and with each joint moved from one end of its way to the other. */
export async function overlapsIn(
  context: PlanContext,
  { groups, joints }: Pick<Proposal, 'groups' | 'joints'>,
  meshes: readonly SolidMesh[],
): Promise<Overlap[]> {
  const names = groups.map(({ name }) => name);
  const mechanism = new Mechanism(names, joints);
  const rest = joints.map(() => ({ ...AT_REST }));
  const places: { where: string | null; poses: ReturnType<Mechanism['poses']> }[] = [
    { where: null, poses: mechanism.poses(rest) },
  ];
  for (const [n, joint] of joints.entries())
    for (const freedom of FREE[joint.kind])
      for (const value of valuesOf(joint, freedom))
        places.push({
          where: `${joint.name} ${freedom === 'turn' ? `is turned by ${value}°` : `has gone ${value} mm`}`,
          poses: mechanism.drive(rest, n, { [freedom]: value }).poses,
        });
  const key = createHash('sha256').update(JSON.stringify([names, joints]));
  for (const { positions } of meshes) key.update(positions);
  const found = await context.remember(`common space of groups ${key.digest('hex')}`, () =>
    commonOf(
      meshes,
      places.map(({ poses }) => poses),
      THIN,
    ),
  );
  const overlaps = found
    .map(
      ({ between, pose, volume }): Overlap => ({
        groups: [names[between[0]]!, names[between[1]]!],
        volume,
        where: places[pose]!.where,
      }),
    )
    .sort((a, b) => b.volume - a.volume);
  for (const {
    groups: [one, other],
    volume,
    where,
  } of overlaps.slice(0, MOST_TOLD))
    context.draft.warn(
      `${one} and ${other} have ${Number(volume.toPrecision(3))} mm³ in common where ${where ?? 'they are drawn'}.`,
    );
  return overlaps;
}

/** Places of a joint between its limits; all the way round where a turn has none. A way without limits has none that could be tried. */
function valuesOf(joint: Joint, freedom: Freedom): number[] {
  const range = joint[freedom] ?? (freedom === 'turn' ? [-180, 180] : null);
  if (!range) return [];
  const [from, to] = range;
  return Array.from({ length: STEPS }, (_, n) => Number((from + ((to - from) * n) / (STEPS - 1)).toFixed(3)));
}
