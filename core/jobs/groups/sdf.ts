import { encodeXML } from 'entities';
import type { Joint, JointKind } from './choices';
import { exact, metres, type SimulatedLink, tidy } from './simulated';

/** Kinds of joints in SDFormat 1.9; one that slides in a plane has none. */
const KINDS: { readonly [kind in JointKind]: string | null } = {
  revolute: 'revolute',
  prismatic: 'prismatic',
  cylindrical: null,
  planar: null,
  fixed: 'fixed',
};

/**
 * Writes groups and joints as SDFormat, an open description of simulated worlds: metres, radians, z up. All links stand in the frame of the
 * model, so joints may close loops.
 * @returns the text, and the joints that are not in it
 */
export function writeSdf(
  name: string,
  links: readonly SimulatedLink[],
  joints: readonly Joint[],
): { text: string; left: string[] } {
  const lines = [
    '<?xml version="1.0"?>',
    '<sdf version="1.9">',
    `  <model name="${encodeXML(name)}">`,
    // The first group stands still.
    '    <joint name="stands still" type="fixed">',
    '      <parent>world</parent>',
    `      <child>${encodeXML(links[0]!.name)}</child>`,
    '    </joint>',
  ];
  for (const { name: link, mesh, hull, mass } of links) {
    lines.push(`    <link name="${encodeXML(link)}">`);
    if (mass) {
      const [xx, yy, zz, xy, yz, zx] = mass.inertia;
      lines.push(
        '      <inertial>',
        `        <pose>${metres(mass.centre)} 0 0 0</pose>`,
        `        <mass>${exact(mass.mass)}</mass>`,
        `        <inertia><ixx>${exact(xx)}</ixx><ixy>${exact(xy)}</ixy><ixz>${exact(zx)}</ixz><iyy>${exact(yy)}</iyy><iyz>${exact(yz)}</iyz><izz>${exact(zz)}</izz></inertia>`,
        '      </inertial>',
      );
    }
    for (const [kind, file] of [
      ['visual', mesh],
      ['collision', hull],
    ] as const)
      lines.push(
        `      <${kind} name="${kind}">`,
        // GLB has y up.
        `        <pose>0 0 0 ${tidy(Math.PI / 2)} 0 0</pose>`,
        `        <geometry><mesh><uri>${encodeXML(file)}</uri></mesh></geometry>`,
        `      </${kind}>`,
      );
    lines.push('    </link>');
  }
  const left: string[] = [];
  for (const { name: called, kind, between, at, direction, turn, way } of joints) {
    const type = KINDS[kind];
    if (!type) {
      left.push(called);
      continue;
    }
    const limits =
      kind === 'revolute' ? turn?.map((value) => (value * Math.PI) / 180) : way?.map((value) => value / 1000);
    lines.push(
      `    <joint name="${encodeXML(called)}" type="${type}">`,
      `      <pose relative_to="__model__">${metres(at)} 0 0 0</pose>`,
      `      <parent>${encodeXML(between[0])}</parent>`,
      `      <child>${encodeXML(between[1])}</child>`,
    );
    if (type !== 'fixed')
      lines.push(
        '      <axis>',
        `        <xyz expressed_in="__model__">${direction.map(tidy).join(' ')}</xyz>`,
        ...(limits
          ? [`        <limit><lower>${tidy(limits[0]!)}</lower><upper>${tidy(limits[1]!)}</upper></limit>`]
          : []),
        '      </axis>',
      );
    lines.push('    </joint>');
  }
  lines.push('  </model>', '</sdf>', '');
  return { text: lines.join('\n'), left };
}
