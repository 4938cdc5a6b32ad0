import { linearSumAssignment } from 'linear-sum-assignment';
import { toleranceFor } from '#core/geometry/shape/congruence/congruence';
import { findMotion } from '#core/geometry/shape/congruence/motion';
import type { ShapeFeatures } from '#core/geometry/shape/features';
import { groupBy } from '#core/multimap';
import { isIdentity, type Matrix4, transformPoint } from '#core/product/matrix';

/** A body of the older or the newer version, where it stands; without a shape when the kernel refused it. */
export interface BodyToMatch {
  id: number;
  name: string;
  shape: ShapeFeatures | null;
}

/** What became of a body. */
export type BodyChange = 'unchanged' | 'moved' | 'changed';

/** An older body and the newer one that it became. */
export interface BodyMatch {
  older: number;
  newer: number;
  how: 'name' | 'id' | 'shape and place';
  /** 0 to 1. */
  confidence: number;
  change: BodyChange;
  /** For one that moved: where to, in the coordinates of the source, mm. */
  motion: Matrix4 | null;
}

export interface Matching {
  matches: BodyMatch[];
  /** Positions of older bodies that have no counterpart. */
  gone: number[];
  /** Positions of newer bodies that are counterparts of none. */
  added: number[];
}

/** A pair that costs more than this is no pair: the one is gone and the other new. */
const MOST_COST = 0.5;
/** Beyond so many bodies without a telling name the table of costs would be too large; the rest counts as new and gone. */
const MOST_ASSIGNED = 1500;

/**
 * Matches the bodies of two versions of a part: by a name that both have once, then by id where the shape agrees, then
 * those left by the assignment of least cost (Jonker and Volgenant), where a cost is the difference of shape (volume,
 * area, diagonal, congruence) and of place.
 */
export function matchBodies(older: readonly BodyToMatch[], newer: readonly BodyToMatch[]): Matching {
  const matches: BodyMatch[] = [];
  const left = { older: new Set(older.keys()), newer: new Set(newer.keys()) };
  const take = (a: number, b: number, how: BodyMatch['how'], confidence: number) => {
    left.older.delete(a);
    left.newer.delete(b);
    matches.push({ older: a, newer: b, how, confidence, ...changeBetween(older[a]!, newer[b]!) });
  };

  // 1. By name.
  const [oldNames, newNames] = [uniqueNames(older), uniqueNames(newer)];
  for (const [name, a] of oldNames) {
    const b = newNames.get(name);
    if (b !== undefined) take(a, b, 'name', cost(older[a]!, newer[b]!) < MOST_COST ? 0.98 : 0.85);
  }

  // 2. By id, which survives when a file is edited and not when it is written anew: so only where the shape agrees.
  // A body that is placed several times has its id as often: the nearest one is meant.
  const byId = groupBy(left.newer, (b) => newer[b]!.id);
  for (const a of [...left.older]) {
    const near = (byId.get(older[a]!.id) ?? [])
      .filter((b) => left.newer.has(b))
      .map((b) => ({ b, cost: cost(older[a]!, newer[b]!) }))
      .sort((x, y) => x.cost - y.cost)[0];
    if (near && near.cost < 0.1) take(a, near.b, 'id', 0.95);
  }

  // 3. By shape and place.
  const rows = [...left.older].filter((a) => older[a]!.shape).slice(0, MOST_ASSIGNED);
  const columns = [...left.newer].filter((b) => newer[b]!.shape).slice(0, MOST_ASSIGNED);
  if (rows.length > 0 && columns.length > 0) {
    const costs = rows.map((a) => columns.map((b) => cost(older[a]!, newer[b]!)));
    const { rowAssignments } = linearSumAssignment(costs, { maximaze: false });
    rows.forEach((a, n) => {
      const column = rowAssignments[n]!;
      const b = column < 0 ? undefined : columns[column];
      if (b !== undefined && costs[n]![column]! < MOST_COST)
        take(a, b, 'shape and place', 1 - costs[n]![column]!);
    });
  }
  return { matches, gone: [...left.older], added: [...left.newer] };
}

/** What became of a body, given the one that it is now. */
function changeBetween(a: BodyToMatch, b: BodyToMatch): { change: BodyChange; motion: Matrix4 | null } {
  if (!a.shape || !b.shape) return { change: 'changed', motion: null };
  const tolerance = toleranceFor(a.shape.diagonal);
  const motion = findMotion(a.shape, b.shape, tolerance)?.matrix;
  if (!motion) return { change: 'changed', motion: null };
  const drift = Math.max(
    ...[a.shape.centre, ...a.shape.features.slice(0, 64).map(({ at }) => at)].map((at) => {
      const moved = transformPoint(motion, at);
      return Math.hypot(...moved.map((value, n) => value - at[n]!));
    }),
  );
  return isIdentity(motion) || drift <= tolerance
    ? { change: 'unchanged', motion: null }
    : { change: 'moved', motion };
}

/** 0 for the same shape in the same place, 1 and more for nothing in common. */
function cost(a: BodyToMatch, b: BodyToMatch): number {
  if (!a.shape || !b.shape) return 1;
  const apart = (x: number, y: number) => Math.abs(x - y) / Math.max(Math.abs(x), Math.abs(y), 1e-9);
  const size = Math.max(a.shape.diagonal, b.shape.diagonal, 1e-9);
  const way = Math.hypot(...a.shape.centre.map((value, n) => value - b.shape!.centre[n]!)) / size;
  const shape =
    (apart(a.shape.volume, b.shape.volume) +
      apart(a.shape.area, b.shape.area) +
      apart(a.shape.diagonal, b.shape.diagonal)) /
    3;
  return 0.6 * Math.min(1, 2 * shape) + 0.4 * Math.min(1, way);
}

function uniqueNames(bodies: readonly BodyToMatch[]): Map<string, number> {
  const found = new Map<string, number>();
  const twice = new Set<string>();
  for (const [n, { name }] of bodies.entries()) {
    const key = name.trim();
    if (key === '') continue;
    if (found.has(key)) twice.add(key);
    found.set(key, n);
  }
  for (const key of twice) found.delete(key);
  return found;
}
