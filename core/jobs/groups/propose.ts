import { DisjointSets } from '#core/disjoint-sets';
import { areParallel } from '#core/geometry/fill/surfaces';
import { boxOfBodies, type Whole } from '#core/geometry/whole/whole';
import { append } from '#core/multimap';
import { diagonalOf, middleOf } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { distanceFromLine, dot, offset, subtract } from '#core/product/vector';
import { freeName, type Joint, type RigidGroup } from './choices';
import type { FlatContact, RoundContact } from './contacts';

/** Groups and joints that could be meant. */
export interface Proposal {
  groups: RigidGroup[];
  joints: Joint[];
}

/** Axes this near are one, mm; a pin that is no looser than this sits fast, mm. */
const [ONE_AXIS, FAST] = [0.1, 0.02];
/** What is smaller than this part of the whole is no group of its own, and what sits in it shares its axis: a fastener, a ring. */
const SMALL = 0.03;
/** A fastener is thinner than this part of what it goes through. */
const THIN = 0.15;
/** What hangs on one other group only, and is no larger than this part of it, is a fastener or a knob. */
const HANGS = 0.3;
/** As part of the whole's diagonal. */
const ABOUT_AS_LOW = 0.1;
const MOST_GROUPS = 12;

/**
 * Proposes rigid groups, and the joints between them. Components that share two axes or more are fixed to each other, also by way of a
 * fastener; so is a pin that sits fast in its hole, and what lies flat against each other with no free axis between. What shares one free axis
 * turns on it. A proposal: the engineer decides.
 */
export function proposeGroups(
  whole: Whole,
  contacts: readonly RoundContact[],
  flats: readonly FlatContact[],
): Proposal {
  const count = whole.occurrences.length;
  const diagonal = diagonalOf(whole.box) || 1;
  const sizes = whole.occurrences.map(({ bodies }) => diagonalOf(boxOfBodies(whole, bodies)) / diagonal);

  // 1. Axes by pair of components.
  const pairs = new Map<string, { a: number; b: number; axes: RoundContact[] }>();
  const note = (a: number, b: number, contact: RoundContact) => {
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    const pair = pairs.get(key) ?? { a: Math.min(a, b), b: Math.max(a, b), axes: [] };
    if (!pair.axes.some((other) => isOneAxis(other, contact))) pair.axes.push(contact);
    pairs.set(key, pair);
  };
  for (const contact of contacts) note(...contact.between, contact);
  const through = new Map<number, RoundContact[]>();
  for (const contact of contacts)
    if (contact.radius < THIN * diagonal * sizes[contact.between[0]]!)
      append(through, contact.between[1], contact);
  // What a pin goes through shares its axis.
  for (const own of through.values())
    for (let i = 0; i < own.length; i++)
      for (let k = i + 1; k < own.length; k++) {
        const [a, b] = [own[i]!.between[0], own[k]!.between[0]];
        if (a !== b && isOneAxis(own[i]!, own[k]!)) note(a, b, own[i]!);
      }

  // 2. What is fixed.
  const sets = new DisjointSets(count);
  const top = (n: number) => sets.of(n);
  const join = (a: number, b: number) => sets.join(a, b);
  const isFree = ({ axes }: { axes: RoundContact[] }) => axes.length === 1 && axes[0]!.clearance > FAST;
  const turnsBetween = (a: number, b: number) =>
    [...pairs.values()].some(
      (pair) =>
        isFree(pair) &&
        ((top(pair.a) === a && top(pair.b) === b) || (top(pair.a) === b && top(pair.b) === a)),
    );
  for (const pair of pairs.values()) if (!isFree(pair)) join(pair.a, pair.b);
  for (const { between } of [...flats].sort((one, other) => other.area - one.area)) {
    const [a, b] = between.map(top) as [number, number];
    if (a !== b && !turnsBetween(a, b)) join(a, b);
  }
  const members = () => {
    const found = new Map<number, number[]>();
    for (let n = 0; n < count; n++) append(found, top(n), n);
    return found;
  };
  const bulk = (own: readonly number[]) => own.reduce((sum, n) => sum + sizes[n]!, 0);

  // 3. What is small, or lies between two that turn on the same axis anyway, goes with the larger of what it touches.
  for (let changes = true; changes; ) {
    changes = false;
    const all = members();
    for (const [group, own] of [...all].sort((one, other) => bulk(one[1]) - bulk(other[1]))) {
      const joints = [...pairs.values()].filter(
        (pair) => top(pair.a) !== top(pair.b) && [top(pair.a), top(pair.b)].includes(group),
      );
      const others = [...new Set(joints.map(({ a, b }) => (top(a) === group ? top(b) : top(a))))];
      const isBetween =
        others.length > 1 &&
        others.every((one) => others.some((other) => one !== other && turnsBetween(one, other)));
      const largest = (one: readonly number[]) => Math.max(...one.map((n) => sizes[n]!));
      const hangsOn = others.length === 1 ? largest(all.get(others[0]!)!) : 0;
      const isSmall = others.length > 0 && (largest(own) < SMALL || largest(own) < HANGS * hangsOn);
      if (!isBetween && !isSmall) continue;
      const to = others.sort((one, other) => bulk(all.get(other) ?? []) - bulk(all.get(one) ?? []))[0]!;
      join(group, to);
      changes = true;
      break;
    }
  }

  // 4. The groups that turn on something; all else stands still with the largest.
  const all = members();
  const turning = new Map<string, { a: number; b: number; axis: RoundContact; area: number }>();
  for (const { a, b, axes } of pairs.values()) {
    const [x, y] = [top(a), top(b)];
    if (x === y) continue;
    const key = x < y ? `${x} ${y}` : `${y} ${x}`;
    const area = areaOf(axes);
    if ((turning.get(key)?.area ?? 0) < area)
      turning.set(key, { a: Math.min(x, y), b: Math.max(x, y), axis: axes[0]!, area });
  }
  const connected = new Set([...turning.values()].flatMap(({ a, b }) => [a, b]));
  const boxOfGroup = (group: number) =>
    boxOfBodies(
      whole,
      all.get(group)!.flatMap((n) => whole.occurrences[n]!.bodies),
    );
  const lowest = (group: number) => boxOfGroup(group)[2];
  // What stands lowest stands still; of what stands about as low, the largest.
  const chosen = [...connected].sort((a, b) => bulk(all.get(b)!) - bulk(all.get(a)!)).slice(0, MOST_GROUPS);
  if (chosen.length < 2) return { groups: [], joints: [] };
  const isBelow = (a: number, b: number) =>
    Math.abs(lowest(a) - lowest(b)) > ABOUT_AS_LOW * diagonal
      ? lowest(a) < lowest(b)
      : bulk(all.get(a)!) >= bulk(all.get(b)!);
  const ground = chosen.reduce((best, one) => (isBelow(best, one) ? best : one));
  chosen.sort((a, b) => Number(b === ground) - Number(a === ground));
  const named = new Map<number, string>();
  const groups: RigidGroup[] = [];
  for (const group of chosen) {
    const own = all.get(group)!.sort((a, b) => sizes[b]! - sizes[a]!);
    const name = freeName((whole.occurrences[own[0]!]!.name || 'group').slice(0, 90), groups);
    named.set(group, name);
    groups.push({ name, members: own.map((n) => whole.occurrences[n]!.key) });
  }
  const rest = [...all].filter(([group]) => !named.has(group)).flatMap(([, own]) => own);
  groups[0]!.members.push(...rest.map((n) => whole.occurrences[n]!.key));
  const joints = [...turning.values()]
    .filter(({ a, b }) => named.has(a) && named.has(b))
    .map(({ a, b, axis }): Joint => {
      const [first, second] = a === ground || (b !== ground && isBelow(a, b)) ? [a, b] : [b, a];
      const between: [string, string] = [named.get(first)!, named.get(second)!];
      return {
        name: `${between[1]} on ${between[0]}`.slice(0, 100),
        between,
        kind: 'revolute',
        at: [...footOf(axis, middleOf(boxOfGroup(second)))],
        direction: [...axis.direction],
        turn: null,
        way: null,
        slideX: null,
        slideY: null,
      };
    });
  return { groups, joints };
}

/** The point of an axis that is nearest to another point. */
function footOf({ at, direction }: RoundContact, point: Vector3): Vector3 {
  return offset(at, direction, dot(subtract(point, at), direction));
}

function isOneAxis(a: RoundContact, b: RoundContact): boolean {
  return areParallel(a.direction, b.direction, 1e-4) && distanceFromLine(a.at, b.at, b.direction) < ONE_AXIS;
}

function areaOf(axes: readonly RoundContact[]): number {
  return axes.reduce((sum, { area }) => sum + area, 0);
}
