import type { Joint, JointKind } from './choices';

/**
 * What a joint can leave free: the turn about its axis (degrees), the way along it (mm), and of a planar joint the ways along the two
 * directions of its plane (mm), which are those that `across` gives for its normal.
 */
export const FREEDOMS = ['turn', 'way', 'slideX', 'slideY'] as const;
export type Freedom = (typeof FREEDOMS)[number];

/** What moves, by kind. */
export const FREE: { readonly [kind in JointKind]: readonly Freedom[] } = {
  revolute: ['turn'],
  prismatic: ['way'],
  cylindrical: ['turn', 'way'],
  planar: ['slideX', 'slideY', 'turn'],
  fixed: [],
};

/** How far a joint has gone. What its kind does not move stays 0. */
export type JointValue = { [freedom in Freedom]: number };

export const AT_REST: JointValue = { turn: 0, way: 0, slideX: 0, slideY: 0 };

/** Brings a value within the limits of its joint. */
export function limited(joint: Joint, value: JointValue): JointValue {
  const within = { ...value };
  for (const freedom of FREE[joint.kind]) {
    const range = joint[freedom];
    if (range) within[freedom] = Math.min(range[1], Math.max(range[0], value[freedom]));
  }
  return within;
}
