import { z } from 'zod';
import {
  Folder,
  Gap,
  namePattern,
  RoundOut,
  SharpEdges,
  SmallerThan,
  Triple,
} from '#core/geometry/reduce/common-choices';

/** Kinds of joints, in the words of ISO 10303-105 (low order kinematic pairs). */
export const JOINT_KINDS = ['revolute', 'prismatic', 'cylindrical', 'planar', 'fixed'] as const;
export type JointKind = (typeof JOINT_KINDS)[number];

/** A rigid group of components. */
export const RigidGroup = z.object({
  name: z.string().trim().min(1).max(100),
  /** Components, by their places in the structure. */
  members: z.array(z.string().max(4000)).max(50_000),
});
export type RigidGroup = z.infer<typeof RigidGroup>;

/** A name that no group has yet: itself, or with a number behind it. */
export function freeName(wanted: string, groups: readonly { name: string }[]): string {
  let name = wanted;
  for (let n = 2; groups.some((group) => group.name === name); n++) name = `${wanted} ${n}`;
  return name;
}

const Range = z.tuple([z.number(), z.number()]).nullable().default(null);

/** A joint between two groups, where the model stands as it is drawn. */
export const Joint = z.object({
  name: z.string().trim().min(1).max(100),
  /** Names of the groups: the second one moves against the first. */
  between: z.tuple([z.string(), z.string()]),
  kind: z.enum(JOINT_KINDS),
  /** A point of the axis, or of the plane, mm. */
  at: Triple,
  /** Of the axis, or the normal of the plane. */
  direction: Triple,
  /** Turn, degrees; null for no limit. */
  turn: Range,
  /** Way along the axis, mm; null for no limit. */
  way: Range,
  /** Of a planar joint: ways along the two directions of its plane, mm; null for no limit. */
  slideX: Range,
  slideY: Range,
});
export type Joint = z.infer<typeof Joint>;

/** Everything that the engineer decides about moving groups. */
export const GroupsChoices = z.object({
  /** Null for those that are proposed: then nothing is made unless that is accepted. Components in no group belong to the first, which stands still. */
  groups: z.array(RigidGroup).max(64).nullable().default(null),
  joints: z.array(Joint).max(128).nullable().default(null),
  /** Makes what is proposed. */
  accept: z.boolean().default(false).describe('make the groups that are proposed'),
  gap: Gap,
  smallerThan: SmallerThan,
  hidden: z.boolean().default(true).describe('what cannot be touched from outside stays'),
  fill: z.boolean().default(true).describe('holes and pockets stay'),
  roundOut: RoundOut,
  sharpEdges: SharpEdges,
  /** Each group as one solid, inside of which nothing is left; else as the parts that are left of it. */
  solid: z.boolean().default(true).describe('groups stay as the parts that are left'),
  /** URDF with a GLB for each group, beside STEP. */
  urdf: z.boolean().default(false).describe('also as URDF with a mesh for each group'),
  /** SDFormat beside, which may hold loops. */
  sdf: z.boolean().default(false).describe('also as SDFormat with a mesh for each group'),
  /** MJCF with an STL for each group beside; it holds every joint. */
  mjcf: z.boolean().default(false).describe('also as MJCF with a mesh for each group'),
  /** Of parts of no known material, kg/m³. */
  density: z
    .number()
    .positive()
    .max(30_000)
    .default(7850)
    .describe('what parts of no known material weigh, kg/m³'),
  pattern: namePattern('{name}-motion'),
  folder: Folder,
  tie: z.boolean().default(true).describe('the new file does not remember what it was made from'),
});
export type GroupsChoices = z.infer<typeof GroupsChoices>;

export const GroupsFileChoices = GroupsChoices.extend({
  file: z.string().min(1).describe('the assembly whose components are gathered into groups'),
});
export type GroupsFileChoices = z.infer<typeof GroupsFileChoices>;
