import { Enumeration, Real, type Reference } from '#core/files/part21/parameters';
import type { Part21Builder } from '#core/files/part21/write';
import { IDENTITY, type Matrix4, placementFromAxes } from '#core/product/matrix';
import { across, unit } from '#core/product/vector';
import { addAxisPlacement } from '#core/product/write-geometry';
import type { Joint, JointKind } from './choices';
import { FREE, type Freedom } from './freedoms';

/** A group as the file has it. */
export interface WrittenGroup {
  name: string;
  /** Its shape representation. */
  representation: Reference;
}

/** Translations along x, y, z and rotations about them, in the order in which a pair says what it leaves free (ISO 10303-105); the axis is z. */
const MOVES: readonly (Freedom | null)[] = ['slideX', 'slideY', 'way', null, null, 'turn'];

export const PAIR: { readonly [kind in JointKind]: string } = {
  revolute: 'REVOLUTE_PAIR',
  prismatic: 'PRISMATIC_PAIR',
  cylindrical: 'CYLINDRICAL_PAIR',
  planar: 'PLANAR_PAIR',
  fixed: 'FULLY_CONSTRAINED_PAIR',
};

/**
 * Adds a mechanism (ISO 10303-105, in the form that AP242 has it): a link for each group, joints between links, pairs that say how each
 * joint moves. It hangs on a property of the assembly, so that readers that know nothing of it pass it over.
 * @param context of the geometry, millimetres and radians
 */
export function addKinematics(
  builder: Part21Builder,
  { definition, context, name }: { definition: Reference; context: Reference; name: string },
  groups: readonly WrittenGroup[],
  joints: readonly Joint[],
): void {
  const add = builder.add.bind(builder);
  const plain = add('REPRESENTATION_CONTEXT', 'kinematics', '');
  const links = new Map(groups.map((group) => [group.name, add('KINEMATIC_LINK', group.name)]));
  const written = joints.map((joint) => {
    const [first, second] = joint.between.map((group) => links.get(group)!) as [Reference, Reference];
    return { joint, reference: add('KINEMATIC_JOINT', joint.name, first, second) };
  });
  const topology = add(
    'KINEMATIC_TOPOLOGY_STRUCTURE',
    name,
    written.map(({ reference }) => reference),
    plain,
  );

  // A frame on each link for every joint that it has: z along the axis. Where the model stands as it is drawn, both are at one place.
  const frames = new Map<string, Reference[]>(groups.map((group) => [group.name, []]));
  const pairs = written.map(({ joint, reference }) => {
    const own = joint.between.map((group) => {
      const frame = addAxisPlacement(builder, frameOf(joint), 1);
      frames.get(group)!.push(frame);
      return frame;
    }) as [Reference, Reference];
    const free = MOVES.map((move) => new Enumeration(move && FREE[joint.kind].includes(move) ? 'T' : 'F'));
    const range = rangeOf(joint);
    const keyword = range.length > 0 ? `${PAIR[joint.kind]}_WITH_RANGE` : PAIR[joint.kind];
    return add(keyword, joint.name, '', '', ...own, reference, ...free, ...range);
  });
  const rigid = groups.map((group) => {
    const own = frames.get(group.name)!;
    const items = own.length > 0 ? own : [addAxisPlacement(builder, IDENTITY, 1)];
    const link = add('RIGID_LINK_REPRESENTATION', group.name, items, context, links.get(group.name)!);
    add('KINEMATIC_LINK_REPRESENTATION_ASSOCIATION', '', '', link, group.representation);
    return link;
  });
  const mechanism = add('MECHANISM_REPRESENTATION', name, pairs, context, topology);
  const property = add('PROPERTY_DEFINITION', 'mechanism', '', definition);
  add('KINEMATIC_PROPERTY_MECHANISM_REPRESENTATION', property, mechanism, rigid[0]!);
}

/** Where a joint stands: z along its axis, x and y in the directions in which a planar one slides. */
export function frameOf({ at, direction }: Pick<Joint, 'at' | 'direction'>): Matrix4 {
  return placementFromAxes(at, direction, across(unit(direction))[0]);
}

/** In which order a pair with range has its limits (ISO 10303-105). */
export const RANGES: { readonly [kind in JointKind]: readonly Freedom[] } = {
  revolute: ['turn'],
  prismatic: ['way'],
  cylindrical: ['way', 'turn'],
  planar: ['turn', 'slideX', 'slideY'],
  fixed: [],
};

/** The limits of a pair with range, radians and mm. Nothing where there are none. */
function rangeOf(joint: Joint) {
  const free = RANGES[joint.kind];
  if (free.every((what) => joint[what] === null)) return [];
  return free.flatMap((what) => {
    const factor = what === 'turn' ? Math.PI / 180 : 1;
    return (joint[what] ?? [null, null]).map((value) => (value === null ? null : new Real(value * factor)));
  });
}
