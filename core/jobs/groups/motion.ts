import {
  IDENTITY,
  invertRigid,
  type Matrix4,
  multiply,
  transformPoint,
  turnDirection,
  type Vector3,
} from '#core/product/matrix';
import { across, add, cross, dot, scale, subtract, unit } from '#core/product/vector';
import type { Joint } from './choices';
import { FREE, FREEDOMS, type Freedom, type JointValue, limited } from './freedoms';

/** Where the groups stand. */
export interface MotionState {
  values: JointValue[];
  /** By group: where it stands against where it is drawn. */
  poses: Matrix4[];
  /** How far joints that close loops are apart at most, mm or as much at the size of the mechanism. */
  error: number;
}

/** A joint that leads from one group on to another, by position. */
export interface TreeJoint {
  joint: number;
  from: number;
  to: number;
}

/** The joints that lead from the first group to every other one, in order, and those that close loops or lead nowhere. */
export function treeOfJoints(
  groups: readonly string[],
  joints: readonly Pick<Joint, 'between'>[],
): { tree: TreeJoint[]; loops: number[] } {
  const at = new Map(groups.map((name, n) => [name, n]));
  const tree: TreeJoint[] = [];
  const reached = new Set([0]);
  const used = new Set<number>();
  for (let grows = true; grows; ) {
    grows = false;
    for (const [n, { between }] of joints.entries()) {
      if (used.has(n)) continue;
      const [a, b] = between.map((name) => at.get(name) ?? -1) as [number, number];
      if (a < 0 || b < 0 || reached.has(a) === reached.has(b)) continue;
      const [from, to] = reached.has(a) ? [a, b] : [b, a];
      tree.push({ joint: n, from, to });
      reached.add(to);
      used.add(n);
      grows = true;
    }
  }
  return { tree, loops: [...joints.keys()].filter((n) => !used.has(n)) };
}

/** A mechanism: groups by name, the first one standing still, and joints. */
export class Mechanism {
  private readonly at: ReadonlyMap<string, number>;
  private readonly tree: readonly TreeJoint[];
  private readonly loops: readonly number[];
  private readonly size: number;

  constructor(
    readonly groups: readonly string[],
    readonly joints: readonly Joint[],
    size = 1000,
  ) {
    this.at = new Map(groups.map((name, n) => [name, n]));
    this.size = size;
    ({ tree: this.tree, loops: this.loops } = treeOfJoints(groups, joints));
  }

  /** Groups that no joint leads to. */
  get loose(): string[] {
    const reached = new Set([0, ...this.tree.map(({ to }) => to)]);
    return this.groups.filter((_, n) => !reached.has(n));
  }

  /**
   * The joint by which a group hangs on what stands still: the first one towards it that is not fixed.
   * @returns null for what does not move; `isForward` tells whether its value grows as the group goes, and not the other way round
   */
  joinedBy(group: string): { joint: number; isForward: boolean } | null {
    let at = this.at.get(group);
    for (let edge = this.edgeTo(at); edge; edge = this.edgeTo(at)) {
      const { kind, between } = this.joints[edge.joint]!;
      if (kind !== 'fixed') return { joint: edge.joint, isForward: this.at.get(between[1]) === edge.to };
      at = edge.from;
    }
    return null;
  }

  private edgeTo(group: number | undefined): TreeJoint | undefined {
    return this.tree.find(({ to }) => to === group);
  }

  /** Poses of all groups for given values of the joints; loops may be open. */
  poses(values: readonly JointValue[]): Matrix4[] {
    const poses: Matrix4[] = this.groups.map(() => IDENTITY);
    for (const { joint, from, to } of this.tree) {
      const described = this.joints[joint]!;
      const moved = motionOf(described, values[joint]!);
      const isForward = this.at.get(described.between[1]) === to;
      poses[to] = multiply(poses[from]!, isForward ? moved : invertRigid(moved));
    }
    return poses;
  }

  /**
   * Moves one joint and lets the others follow, so that loops stay closed. Without loops nothing else moves.
   * @param from the state that it starts from
   * @param driven the joint that is moved, and to where; its own limits hold
   */
  drive(from: readonly JointValue[], driven: number, to: Partial<JointValue>): MotionState {
    const values = copied(from);
    const target = limited(this.joints[driven]!, { ...values[driven]!, ...to });
    // In small steps: a loop is followed round, and does not jump to its other shape.
    const start = values[driven]!;
    const way = Math.max(
      ...FREEDOMS.map(
        (what) => Math.abs(target[what] - start[what]) / (what === 'turn' ? 4 : 0.03 * this.size),
      ),
    );
    const steps = this.loops.length === 0 ? 1 : Math.min(90, Math.max(1, Math.ceil(way)));
    let error = 0;
    for (let n = 1; n <= steps; n++) {
      const part = n / steps;
      const before = copied(values);
      values[driven] = { ...start };
      for (const what of FREEDOMS) values[driven][what] += (target[what] - start[what]) * part;
      error = this.closeLoops(values, driven);
      if (error > 1e-3 || this.breaksLimit(values)) {
        // It goes no further: what was before holds.
        for (const [k, value] of before.entries()) values[k] = value;
        error = this.closeLoops(values, driven);
        break;
      }
    }
    return { values, poses: this.poses(values), error };
  }

  private breaksLimit(values: readonly JointValue[]): boolean {
    return this.joints.some((joint, n) => {
      const inside = limited(joint, values[n]!);
      return FREEDOMS.some((what) => Math.abs(inside[what] - values[n]![what]) > 1e-6);
    });
  }

  /** Damped Gauss-Newton on what the joints of loops are apart, with the driven one held. @returns what is left */
  private closeLoops(values: JointValue[], driven: number): number {
    if (this.loops.length === 0) return 0;
    const unknowns: { joint: number; what: Freedom }[] = this.tree.flatMap(({ joint }) =>
      joint === driven ? [] : FREE[this.joints[joint]!.kind].map((what) => ({ joint, what })),
    );
    let residual = this.residual(values);
    for (let round = 0; round < 30 && norm(residual) > 1e-9; round++) {
      const columns = unknowns.map(({ joint, what }) => {
        const step = 1e-4;
        values[joint]![what] += step;
        const moved = this.residual(values);
        values[joint]![what] -= step;
        return moved.map((value, n) => (value - residual[n]!) / step);
      });
      const change = leastSquares(columns, residual);
      for (const [n, { joint, what }] of unknowns.entries()) values[joint]![what] -= change[n]!;
      residual = this.residual(values);
    }
    // What a joint of a loop has gone follows from where its groups stand.
    const poses = this.poses(values);
    for (const n of this.loops)
      values[n] = valueBetween(this.joints[n]!, this.relative(poses, n), values[n]!);
    return norm(residual);
  }

  private relative(poses: readonly Matrix4[], joint: number): Matrix4 {
    const [a, b] = this.joints[joint]!.between.map((name) => this.at.get(name)!) as [number, number];
    return multiply(invertRigid(poses[a]!), poses[b]!);
  }

  /** What the groups of each loop's joint are apart that it does not let them be; mm, turns as arcs of the size. */
  private residual(values: readonly JointValue[]): number[] {
    const poses = this.poses(values);
    return this.loops.flatMap((n) => {
      const joint = this.joints[n]!;
      const relative = this.relative(poses, n);
      const direction = unit(joint.direction);
      const [u, v] = across(direction);
      const moved = subtract(transformPoint(relative, joint.at), joint.at);
      const turned = turnDirection(relative, direction);
      const tilt = [dot(turned, u) * this.size, dot(turned, v) * this.size];
      const apart = [dot(moved, u), dot(moved, v), dot(moved, direction)] as const;
      const twist = angleAbout(relative, direction) * this.size;
      if (joint.kind === 'revolute') return [...apart, ...tilt];
      if (joint.kind === 'prismatic') return [apart[0], apart[1], ...tilt, twist];
      if (joint.kind === 'cylindrical') return [apart[0], apart[1], ...tilt];
      if (joint.kind === 'planar') return [apart[2], ...tilt];
      return [...apart, ...tilt, twist];
    });
  }
}

function copied(values: readonly JointValue[]): JointValue[] {
  return values.map((value) => ({ ...value }));
}

/** The motion of a joint's second group against its first. */
export function motionOf(joint: Joint, { turn, way, slideX, slideY }: JointValue): Matrix4 {
  const direction = unit(joint.direction);
  const freedoms = new Set(FREE[joint.kind]);
  const rotation = rotationAbout(joint.at, direction, freedoms.has('turn') ? (turn * Math.PI) / 180 : 0);
  let by: Vector3 = freedoms.has('way') ? scale(direction, way) : [0, 0, 0];
  if (joint.kind === 'planar') {
    const [u, v] = across(direction);
    by = add(scale(u, slideX), scale(v, slideY));
  }
  const shift: Matrix4 = [1, 0, 0, by[0], 0, 1, 0, by[1], 0, 0, 1, by[2], 0, 0, 0, 1];
  return multiply(shift, rotation);
}

function rotationAbout(at: Vector3, [x, y, z]: Vector3, angle: number): Matrix4 {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const k = 1 - c;
  const rows = [
    [c + x * x * k, x * y * k - z * s, x * z * k + y * s],
    [y * x * k + z * s, c + y * y * k, y * z * k - x * s],
    [z * x * k - y * s, z * y * k + x * s, c + z * z * k],
  ];
  return [
    ...rows.flatMap((row, n) => [...row, at[n as 0] - (row[0]! * at[0] + row[1]! * at[1] + row[2]! * at[2])]),
    0,
    0,
    0,
    1,
  ];
}

/** Turn of a motion about a direction, radians. */
function angleAbout(m: Matrix4, direction: Vector3): number {
  const [u] = across(direction);
  const turned = turnDirection(m, u);
  return Math.atan2(dot(cross(u, turned), direction), dot(u, turned));
}

function valueBetween(joint: Joint, relative: Matrix4, before: JointValue): JointValue {
  const direction = unit(joint.direction);
  const [u, v] = across(direction);
  const moved = subtract(transformPoint(relative, joint.at), joint.at);
  let turn = (angleAbout(relative, direction) * 180) / Math.PI;
  // Turns add up: a joint that has gone round once is at 360 degrees.
  turn += 360 * Math.round((before.turn - turn) / 360);
  return { turn, way: dot(moved, direction), slideX: dot(moved, u), slideY: dot(moved, v) };
}

function norm(values: readonly number[]): number {
  return values.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
}

/** The x of least length that makes columns · x nearest to a goal: damped normal equations, by Cholesky. */
function leastSquares(columns: readonly (readonly number[])[], goal: readonly number[]): number[] {
  const count = columns.length;
  const matrix = columns.map((column) =>
    columns.map((other) => column.reduce((sum, value, n) => sum + value * other[n]!, 0)),
  );
  const right = columns.map((column) => column.reduce((sum, value, n) => sum + value * goal[n]!, 0));
  const trace = matrix.reduce((sum, row, n) => sum + row[n]!, 0);
  for (let n = 0; n < count; n++) matrix[n]![n]! += 1e-10 * trace + 1e-12;
  for (let n = 0; n < count; n++) {
    for (let k = 0; k <= n; k++) {
      let sum = matrix[n]![k]!;
      for (let j = 0; j < k; j++) sum -= matrix[n]![j]! * matrix[k]![j]!;
      matrix[n]![k] = n === k ? Math.sqrt(Math.max(sum, 1e-30)) : sum / matrix[k]![k]!;
    }
  }
  for (let n = 0; n < count; n++) {
    for (let j = 0; j < n; j++) right[n]! -= matrix[n]![j]! * right[j]!;
    right[n]! /= matrix[n]![n]!;
  }
  for (let n = count - 1; n >= 0; n--) {
    for (let j = n + 1; j < count; j++) right[n]! -= matrix[j]![n]! * right[j]!;
    right[n]! /= matrix[n]![n]!;
  }
  return right;
}
