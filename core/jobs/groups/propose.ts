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

/** Two components with the axes that they share. */
interface AxisPair {
  a: number;
  b: number;
  axes: RoundContact[];
}

/** Components of a whole, as they are gathered. */
interface Gathering {
  whole: Whole;
  /** Diagonal of the whole, mm. */
  diagonal: number;
  /** Of each component, as a part of that. */
  sizes: readonly number[];
  pairs: readonly AxisPair[];
  /** What belongs together so far. */
  sets: DisjointSets;
}

/** Two groups that turn on each other, named by one component each. */
interface Turning {
  a: number;
  b: number;
  axis: RoundContact;
  area: number;
}

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
  const diagonal = diagonalOf(whole.box) || 1;
  const sizes = whole.occurrences.map(({ bodies }) => diagonalOf(boxOfBodies(whole, bodies)) / diagonal);
  const gathering: Gathering = {
    whole,
    diagonal,
    sizes,
    pairs: pairsOf(contacts, (n) => THIN * diagonal * sizes[n]!),
    sets: new DisjointSets(sizes.length),
  };
  fixTogether(gathering, flats);
  while (takeInSmallest(gathering));
  return namedGroups(gathering);
}

/**
 * Axes by pair of components. What a pin goes through shares its axis.
 * @param thin radius below which a component is a pin, mm
 */
function pairsOf(contacts: readonly RoundContact[], thin: (component: number) => number): AxisPair[] {
  const pairs = new Map<string, AxisPair>();
  const note = (a: number, b: number, contact: RoundContact) => {
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    const pair = pairs.get(key) ?? { a: Math.min(a, b), b: Math.max(a, b), axes: [] };
    if (!pair.axes.some((other) => isOneAxis(other, contact))) pair.axes.push(contact);
    pairs.set(key, pair);
  };
  for (const contact of contacts) note(...contact.between, contact);
  const through = new Map<number, RoundContact[]>();
  for (const contact of contacts)
    if (contact.radius < thin(contact.between[0])) append(through, contact.between[1], contact);
  for (const own of through.values())
    for (let i = 0; i < own.length; i++)
      for (let k = i + 1; k < own.length; k++) {
        const [a, b] = [own[i]!.between[0], own[k]!.between[0]];
        if (a !== b && isOneAxis(own[i]!, own[k]!)) note(a, b, own[i]!);
      }
  return [...pairs.values()];
}

function isFree({ axes }: AxisPair): boolean {
  return axes.length === 1 && axes[0]!.clearance > FAST;
}

/** Whether two groups turn on each other. */
function turnsBetween({ pairs, sets }: Gathering, a: number, b: number): boolean {
  return pairs.some((pair) => {
    const [x, y] = [sets.of(pair.a), sets.of(pair.b)];
    return isFree(pair) && ((x === a && y === b) || (x === b && y === a));
  });
}

/** Joins what is fixed: by its axes, or by lying flat on each other with no free axis between, the largest faces first. */
function fixTogether(gathering: Gathering, flats: readonly FlatContact[]): void {
  const { pairs, sets } = gathering;
  for (const pair of pairs) if (!isFree(pair)) sets.join(pair.a, pair.b);
  for (const { between } of [...flats].sort((one, other) => other.area - one.area)) {
    const [a, b] = between.map((n) => sets.of(n)) as [number, number];
    if (a !== b && !turnsBetween(gathering, a, b)) sets.join(a, b);
  }
}

/** Components by group. */
function membersOf({ sizes, sets }: Gathering): Map<number, number[]> {
  const found = new Map<number, number[]>();
  for (const n of sizes.keys()) append(found, sets.of(n), n);
  return found;
}

function bulkOf({ sizes }: Gathering, members: readonly number[]): number {
  return members.reduce((sum, n) => sum + sizes[n]!, 0);
}

/**
 * What is small, or lies between two that turn on the same axis anyway, goes with the larger of what it touches: the smallest such group first.
 * @returns whether there was one
 */
function takeInSmallest(gathering: Gathering): boolean {
  const { pairs, sets, sizes } = gathering;
  const all = membersOf(gathering);
  const bulk = (group: number) => bulkOf(gathering, all.get(group) ?? []);
  const largest = (members: readonly number[]) => Math.max(...members.map((n) => sizes[n]!));
  for (const [group, own] of [...all].sort(([one], [other]) => bulk(one) - bulk(other))) {
    const touching = pairs.flatMap(({ a, b }) => {
      const [x, y] = [sets.of(a), sets.of(b)];
      if (x === y) return [];
      return x === group ? [y] : y === group ? [x] : [];
    });
    const others = [...new Set(touching)];
    const isBetween =
      others.length > 1 &&
      others.every((one) => others.some((other) => one !== other && turnsBetween(gathering, one, other)));
    const hangsOn = others.length === 1 ? largest(all.get(others[0]!)!) : 0;
    const isSmall = others.length > 0 && (largest(own) < SMALL || largest(own) < HANGS * hangsOn);
    if (!isBetween && !isSmall) continue;
    const [to] = others.sort((one, other) => bulk(other) - bulk(one));
    sets.join(group, to!);
    return true;
  }
  return false;
}

/** Pairs of groups that turn on each other, by the axis with the largest area. */
function turningPairs({ pairs, sets }: Gathering): Turning[] {
  const turning = new Map<string, Turning>();
  for (const { a, b, axes } of pairs) {
    const [x, y] = [sets.of(a), sets.of(b)];
    if (x === y) continue;
    const key = x < y ? `${x} ${y}` : `${y} ${x}`;
    const area = areaOf(axes);
    if ((turning.get(key)?.area ?? 0) < area)
      turning.set(key, { a: Math.min(x, y), b: Math.max(x, y), axis: axes[0]!, area });
  }
  return [...turning.values()];
}

/** The groups that turn on something, with names, and their joints; all else stands still with the one that stands lowest. */
function namedGroups(gathering: Gathering): Proposal {
  const { whole, diagonal, sizes } = gathering;
  const all = membersOf(gathering);
  const turning = turningPairs(gathering);
  const bulk = (group: number) => bulkOf(gathering, all.get(group)!);
  const boxOfGroup = (group: number) =>
    boxOfBodies(
      whole,
      all.get(group)!.flatMap((n) => whole.occurrences[n]!.bodies),
    );
  const lowest = (group: number) => boxOfGroup(group)[2];
  // Of what stands about as low, the largest.
  const isBelow = (a: number, b: number) =>
    Math.abs(lowest(a) - lowest(b)) > ABOUT_AS_LOW * diagonal ? lowest(a) < lowest(b) : bulk(a) >= bulk(b);
  const chosen = [...new Set(turning.flatMap(({ a, b }) => [a, b]))]
    .sort((a, b) => bulk(b) - bulk(a))
    .slice(0, MOST_GROUPS);
  if (chosen.length < 2) return { groups: [], joints: [] };
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

  const joints = turning
    .filter(({ a, b }) => named.has(a) && named.has(b))
    .map(({ a, b, axis }) => {
      const [first, second] = a === ground || (b !== ground && isBelow(a, b)) ? [a, b] : [b, a];
      return revolute([named.get(first)!, named.get(second)!], axis, middleOf(boxOfGroup(second)));
    });
  return { groups, joints };
}

/** A joint about an axis, as near to a point as it comes. */
function revolute(between: [string, string], axis: RoundContact, near: Vector3): Joint {
  return {
    name: `${between[1]} on ${between[0]}`.slice(0, 100),
    between,
    kind: 'revolute',
    at: [...footOf(axis, near)],
    direction: [...axis.direction],
    turn: null,
    way: null,
    slideX: null,
    slideY: null,
  };
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
