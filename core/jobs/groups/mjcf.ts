import { encodeXML } from 'entities';
import type { Vector3 } from '#core/product/matrix';
import { across, scale, unit } from '#core/product/vector';
import type { Joint } from './choices';
import { FREE, type Freedom } from './freedoms';
import { treeOfJoints } from './motion';
import { exact, metres, type SimulatedLink, tidy } from './simulated';

/**
 * Writes groups and joints as MJCF, the format of an open simulator for robots: metres and radians, z up. Bodies hang on each other as a tree,
 * each in the frame of the whole; a joint that closes a loop holds a point of both together.
 * @param meshOf file of a group's mesh, STL in millimetres
 */
export function writeMjcf(
  name: string,
  links: readonly SimulatedLink[],
  joints: readonly Joint[],
  meshOf: (link: number) => string,
): string {
  const { tree, loops } = treeOfJoints(
    links.map((link) => link.name),
    joints,
  );
  const below = (from: number) => tree.filter((branch) => branch.from === from);
  const lines = [
    '<?xml version="1.0"?>',
    `<mujoco model="${encodeXML(name)}">`,
    '  <compiler angle="radian"/>',
    '  <asset>',
    ...links.map(
      (_, n) => `    <mesh name="mesh ${n + 1}" file="${encodeXML(meshOf(n))}" scale="0.001 0.001 0.001"/>`,
    ),
    '  </asset>',
    '  <worldbody>',
  ];
  const addBody = (n: number, by: { joint: Joint; isForward: boolean } | null, indent: string) => {
    const { name: called, mass } = links[n]!;
    lines.push(`${indent}<body name="${encodeXML(called)}">`);
    if (mass) {
      const [xx, yy, zz, xy, yz, zx] = mass.inertia;
      lines.push(
        `${indent}  <inertial pos="${metres(mass.centre)}" mass="${exact(mass.mass)}" fullinertia="${[xx, yy, zz, xy, zx, yz].map(exact).join(' ')}"/>`,
      );
    }
    if (by)
      for (const freedom of FREE[by.joint.kind])
        lines.push(`${indent}  ${jointIn(by.joint, freedom, by.isForward)}`);
    lines.push(`${indent}  <geom type="mesh" mesh="mesh ${n + 1}"/>`);
    for (const { joint, from, to } of below(n)) {
      const own = joints[joint]!;
      addBody(to, { joint: own, isForward: own.between[0] === links[from]!.name }, `${indent}  `);
    }
    lines.push(`${indent}</body>`);
  };
  addBody(0, null, '    ');
  lines.push('  </worldbody>');
  if (loops.length > 0) {
    lines.push('  <equality>');
    for (const n of loops) {
      const { between, at } = joints[n]!;
      lines.push(
        `    <connect name="${encodeXML(joints[n]!.name)}" body1="${encodeXML(between[0])}" body2="${encodeXML(between[1])}" anchor="${metres(at)}"/>`,
      );
    }
    lines.push('  </equality>');
  }
  lines.push('</mujoco>', '');
  return lines.join('\n');
}

/** One freedom of a joint: about or along an axis, within its limits. */
function jointIn(joint: Joint, freedom: Freedom, isForward: boolean): string {
  const normal = unit(joint.direction as Vector3);
  const [u, v] = across(normal);
  const along = freedom === 'slideX' ? u : freedom === 'slideY' ? v : normal;
  const axis = scale(along, isForward ? 1 : -1);
  const isTurn = freedom === 'turn';
  const range = joint[freedom]?.map((value) => (isTurn ? (value * Math.PI) / 180 : value / 1000));
  const limits = range ? ` range="${range.map(tidy).join(' ')}" limited="true"` : '';
  // A body may have several; its name goes to the first of them.
  const called = FREE[joint.kind][0] === freedom ? joint.name : `${joint.name}, ${freedom}`;
  return `<joint name="${encodeXML(called)}" type="${isTurn ? 'hinge' : 'slide'}" pos="${metres(joint.at)}" axis="${axis.map(tidy).join(' ')}"${limits}/>`;
}
