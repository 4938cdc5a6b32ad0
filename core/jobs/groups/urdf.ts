import { encodeXML } from 'entities';
import type { Mass } from '#core/geometry/solids/mass';
import type { Vector3 } from '#core/product/matrix';
import { scale, subtract } from '#core/product/vector';
import type { Joint, JointKind } from './choices';
import { treeOfJoints } from './motion';
import { exact, metres, type SimulatedLink, tidy } from './simulated';

/** Kinds of joints in URDF; one that turns and slides is two. */
const KINDS: { readonly [kind in JointKind]: string } = {
  revolute: 'continuous',
  prismatic: 'prismatic',
  cylindrical: 'prismatic',
  planar: 'planar',
  fixed: 'fixed',
};
const UNLIMITED = 1000;
/** A limit has to say them (N or N·m, m/s or rad/s), and 0 would hold every joint fast: nobody knows what drives them. */
const [EFFORT, VELOCITY] = [1000, 100];

/**
 * Writes groups and joints as URDF, an open description of mechanisms: metres and radians, z up. Joints that close loops are left out, for
 * URDF knows trees only.
 * @returns the text, and the joints that are not in it
 */
export function writeUrdf(
  name: string,
  links: readonly SimulatedLink[],
  joints: readonly Joint[],
): { text: string; left: string[] } {
  const groups = links.map((link) => link.name);
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
  const lines = ['<?xml version="1.0"?>', `<robot name="${attribute(name)}">`];
  for (const { name: group, mesh, hull, mass } of links) {
    const origin = originOf.get(group)!;
    // GLB has y up.
    const place = `      <origin xyz="${metres(scale(origin, -1))}" rpy="${tidy(Math.PI / 2)} 0 0"/>`;
    lines.push(`  <link name="${attribute(group)}">`, ...inertialOf(mass, origin));
    for (const [kind, file] of [
      ['visual', mesh],
      ['collision', hull],
    ] as const)
      lines.push(
        `    <${kind}>`,
        place,
        `      <geometry><mesh filename="${attribute(file)}"/></geometry>`,
        `    </${kind}>`,
      );
    lines.push('  </link>');
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
      `    <limit lower="${tidy(low)}" upper="${tidy(high)}" effort="${EFFORT}" velocity="${VELOCITY}"/>`;
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

/** Mass and inertia of a link, in its frame. Nothing for one without a mass. */
function inertialOf(mass: Mass | null, origin: Vector3): string[] {
  if (!mass) return [];
  const [xx, yy, zz, xy, yz, zx] = mass.inertia;
  return [
    '    <inertial>',
    `      <origin xyz="${metres(subtract(mass.centre, origin))}" rpy="0 0 0"/>`,
    `      <mass value="${exact(mass.mass)}"/>`,
    `      <inertia ixx="${exact(xx)}" ixy="${exact(xy)}" ixz="${exact(zx)}" iyy="${exact(yy)}" iyz="${exact(yz)}" izz="${exact(zz)}"/>`,
    '    </inertial>',
  ];
}
