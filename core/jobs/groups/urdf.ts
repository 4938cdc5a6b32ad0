import { encodeXML } from 'entities';
import type { Vector3 } from '#core/product/matrix';
import type { Joint, JointKind } from './choices';
import { treeOfJoints } from './motion';

/** Kinds of joints in URDF; one that turns and slides is two. */
const KINDS: { readonly [kind in JointKind]: string } = {
  revolute: 'continuous',
  prismatic: 'prismatic',
  cylindrical: 'prismatic',
  planar: 'planar',
  fixed: 'fixed',
};
const UNLIMITED = 1000;

/**
 * Writes groups and joints as URDF, an open description of mechanisms: metres and radians, z up. Joints that close loops are left out, for
 * URDF knows trees only.
 * @param meshes file of each group's mesh, GLB: metres, y up
 * @returns the text, and the joints that are not in it
 */
export function writeUrdf(
  name: string,
  groups: readonly string[],
  joints: readonly Joint[],
  meshes: ReadonlyMap<string, string>,
): { text: string; left: string[] } {
  // 1. A tree from the group that stands still.
  const { tree, loops } = treeOfJoints(groups, joints);
  const order = tree.map(({ joint, from, to }) => ({
    joint: joints[joint]!,
    from: groups[from]!,
    to: groups[to]!,
  }));

  // 2. A link's frame lies where its joint is; its mesh is where the whole has it.
  const originOf = new Map<string, Vector3>(groups.map((group) => [group, [0, 0, 0]]));
  for (const { joint, to } of order) originOf.set(to, joint.at as Vector3);
  const attribute = (text: string) => encodeXML(text);
  const metres = (point: readonly number[]) => point.map((value) => tidy(value / 1000)).join(' ');
  const lines = ['<?xml version="1.0"?>', `<robot name="${attribute(name)}">`];
  for (const group of groups) {
    const [x, y, z] = originOf.get(group)!;
    lines.push(
      `  <link name="${attribute(group)}">`,
      '    <visual>',
      `      <origin xyz="${metres([-x, -y, -z])}" rpy="${tidy(Math.PI / 2)} 0 0"/>`,
      `      <geometry><mesh filename="${attribute(meshes.get(group) ?? '')}"/></geometry>`,
      '    </visual>',
      '  </link>',
    );
  }
  for (const { joint, from, to } of order) {
    const origin = originOf.get(from)!;
    const offset = joint.at.map((value, n) => value - origin[n]!);
    const isForward = joint.between[1] === to;
    const axis = joint.direction.map((value) => (isForward ? value : -value));
    const add = (
      kind: string,
      called: string,
      parent: string,
      child: string,
      at: readonly number[],
      limit: string,
    ) =>
      lines.push(
        `  <joint name="${attribute(called)}" type="${kind}">`,
        `    <parent link="${attribute(parent)}"/>`,
        `    <child link="${attribute(child)}"/>`,
        `    <origin xyz="${metres(at)}" rpy="0 0 0"/>`,
        ...(kind === 'fixed' ? [] : [`    <axis xyz="${axis.map(tidy).join(' ')}"/>`]),
        ...(limit ? [limit] : []),
        '  </joint>',
      );
    const turn = joint.turn?.map((value) => (value * Math.PI) / 180);
    const limitOf = (low: number, high: number) =>
      `    <limit lower="${tidy(low)}" upper="${tidy(high)}" effort="0" velocity="0"/>`;
    const [low, high] = joint.way ?? [-UNLIMITED, UNLIMITED];
    const wayLimit = limitOf(low / 1000, high / 1000);
    if (joint.kind === 'cylindrical') {
      const between = `${to} on its way`;
      lines.push(`  <link name="${attribute(between)}"/>`);
      add('prismatic', `${joint.name}, way`, from, between, offset, wayLimit);
      add(
        turn ? 'revolute' : 'continuous',
        joint.name,
        between,
        to,
        [0, 0, 0],
        turn ? limitOf(turn[0]!, turn[1]!) : '',
      );
    } else if (joint.kind === 'revolute' && turn)
      add('revolute', joint.name, from, to, offset, limitOf(turn[0]!, turn[1]!));
    else add(KINDS[joint.kind], joint.name, from, to, offset, joint.kind === 'prismatic' ? wayLimit : '');
  }
  lines.push('</robot>', '');
  return { text: lines.join('\n'), left: loops.map((n) => joints[n]!.name) };
}

function tidy(value: number): string {
  return String(Number(value.toFixed(9)) || 0);
}
