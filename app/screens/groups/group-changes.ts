import { freeName, type Joint, type RigidGroup } from '#core/jobs/groups/choices';

/** Groups and the joints between them. */
export interface Grouping {
  groups: RigidGroup[];
  joints: Joint[];
}

/** Components put into a group, by its place, and out of those that they were in. */
export function movedTo({ groups, joints }: Grouping, at: number, keys: readonly string[]): Grouping {
  const rest = groups.map((group) => ({
    ...group,
    members: group.members.filter((key) => !keys.includes(key)),
  }));
  return {
    groups: rest.map((group, n) => (n === at ? { ...group, members: [...group.members, ...keys] } : group)),
    joints,
  };
}

/** A new group of components; the first group of all is what stands still. */
export function gathered({ groups, joints }: Grouping, keys: readonly string[]): Grouping {
  const first = groups.length > 0 ? groups : [{ name: 'Stands still', members: [] }];
  const added = [...first, { name: freeName('Group', groups), members: [] }];
  return movedTo({ groups: added, joints }, added.length - 1, keys);
}

/** A group under another name, also in its joints; nothing where another group is called that. */
export function renamed({ groups, joints }: Grouping, at: number, name: string): Grouping | null {
  const before = groups[at]!.name;
  if (name.trim() === '' || groups.some((group, n) => n !== at && group.name === name)) return null;
  const now = (group: string) => (group === before ? name : group);
  return {
    groups: groups.map((group, n) => (n === at ? { ...group, name } : group)),
    joints: joints.map((joint) => ({ ...joint, between: [now(joint.between[0]), now(joint.between[1])] })),
  };
}

/** A group given up: its components stand still, and its joints are gone. */
export function dissolved(grouping: Grouping, at: number): Grouping {
  const { name, members } = grouping.groups[at]!;
  const { groups, joints } = movedTo(grouping, 0, members);
  return {
    groups: groups.filter((_, n) => n !== at),
    joints: joints.filter(({ between }) => !between.includes(name)),
  };
}

/** One joint more, between what stands still and the last group; it turns about z until something else is said. */
export function joined({ groups, joints }: Grouping): Grouping {
  const joint: Joint = {
    name: freeName(`Joint ${joints.length + 1}`, joints),
    between: [groups[0]!.name, groups.at(-1)!.name],
    kind: 'revolute',
    at: [0, 0, 0],
    direction: [0, 0, 1],
    turn: null,
    way: null,
    slideX: null,
    slideY: null,
  };
  return { groups, joints: [...joints, joint] };
}
