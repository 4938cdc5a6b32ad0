import { useMemo, useState } from 'react';
import { AT_REST, type FREE, type Freedom, type JointValue } from '#core/jobs/groups/freedoms';
import { Mechanism } from '#core/jobs/groups/motion';
import { IDENTITY, transformPoint, turnDirection } from '#core/product/matrix';
import { across, unit } from '#core/product/vector';
import { useJoints } from '../../stage/useJoints';
import type { Grouping } from './group-changes';

/** What goes when a joint of each kind is dragged. */
const DRAGGED = {
  revolute: ['turn'],
  prismatic: ['way'],
  cylindrical: ['turn'],
  planar: ['slideX', 'slideY'],
  fixed: [],
} as const satisfies { [kind in keyof typeof FREE]: readonly Freedom[] };

/**
 * The groups of a whole as they move: where each stands, and the tool by which they are dragged on the stage.
 * @param groupOfRow the group that each row of the stage belongs to, by its place
 * @param size diagonal of the whole, mm
 * @param isDragged whether presses on the stage move groups
 */
export function useMoving(
  { groups, joints }: Grouping,
  groupOfRow: ReadonlyMap<number, number>,
  size: number,
  isDragged: boolean,
) {
  const [values, setValues] = useState<readonly JointValue[]>([]);
  const mechanism = useMemo(
    () =>
      new Mechanism(
        groups.map(({ name }) => name),
        joints,
        size,
      ),
    [groups, joints, size],
  );
  const now = useMemo(() => joints.map((_, n) => values[n] ?? AT_REST), [joints, values]);
  const ofGroup = useMemo(() => mechanism.poses(now), [mechanism, now]);
  const poses = useMemo(() => {
    const moved = new Map<number, readonly number[]>();
    for (const [row, group] of groupOfRow) if (group > 0 && ofGroup[group]) moved.set(row, ofGroup[group]);
    return moved;
  }, [ofGroup, groupOfRow]);
  const drive = (joint: number, to: Partial<JointValue>) => setValues(mechanism.drive(now, joint, to).values);

  const drawn = useMemo(
    () =>
      joints.map(({ at, direction, kind, between }) => {
        // The axis goes along with the group that it is on.
        const pose = ofGroup[groups.findIndex(({ name }) => name === between[0])] ?? IDENTITY;
        const axis = unit(direction);
        const [freedom] = DRAGGED[kind];
        return {
          at: transformPoint(pose, at),
          direction: turnDirection(pose, axis),
          across: turnDirection(pose, across(axis)[0]),
          drags: freedom === 'slideX' ? ('slide' as const) : (freedom ?? 'turn'),
          reach: 0.3 * size,
        };
      }),
    [joints, groups, ofGroup, size],
  );
  const tool = useJoints(
    drawn,
    isDragged,
    (row) => {
      const by = mechanism.joinedBy(groups[groupOfRow.get(row) ?? 0]?.name ?? '');
      if (!by) return null;
      const sign = by.isForward ? 1 : -1;
      return { ...by, value: DRAGGED[joints[by.joint]!.kind].map((what) => sign * now[by.joint]![what]) };
    },
    (joint, to) =>
      drive(joint, Object.fromEntries(DRAGGED[joints[joint]!.kind].map((what, n) => [what, to[n]!]))),
  );
  return { tool, poses, values: now, drive, backToRest: () => setValues([]) };
}

export type Moving = ReturnType<typeof useMoving>;
