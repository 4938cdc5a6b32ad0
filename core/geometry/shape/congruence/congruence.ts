import { IDENTITY, type Matrix4 } from '#core/product/matrix';
import type { ShapeFeatures } from '../features';
import { findMotion } from './motion';

/** Bodies of one shape. The first one stands for all; the others are where its motion takes it. */
export interface CongruentGroup {
  /** Positions in the given list; the first is the representative. */
  members: { body: number; placement: Matrix4 }[];
  /** Index of the group that is this one in a mirror; null when there is none. */
  mirrorOf: number | null;
}

export interface CongruenceOptions {
  /** How far a feature may be off, as a part of the body's diagonal. */
  relative?: number;
  /** Never less than this, mm: the uncertainty that the file itself declares. */
  least?: number;
  /** Bodies of different keys are never put together: other colour, other name. */
  keyOf?: (body: number) => string;
}

export const RELATIVE_TOLERANCE = 1e-4;

/** The tolerance for one body, mm. */
export function toleranceFor(
  diagonal: number,
  { relative = RELATIVE_TOLERANCE, least = 0 }: CongruenceOptions = {},
): number {
  return Math.max(relative * diagonal, least, 1e-9);
}

/**
 * Puts bodies of the same shape together. Cheap invariants come first: how many features of each kind (a key that
 * must agree), then area, volume and principal moments (sorted, within tolerance). Only bodies that agree in all of these are
 * tried for a motion (findMotion). Mirror images are not the same; they are paired.
 *
 * Cost: one pass over the features; then one search for a motion for each body and each shape that agrees with it in
 * the invariants. Near linear in bodies when most shapes differ, and when most are the same.
 */
export function findCongruent(
  bodies: readonly ShapeFeatures[],
  options: CongruenceOptions = {},
): CongruentGroup[] {
  const groups: CongruentGroup[] = [];
  const byKey = new Map<string, { group: number; shape: ShapeFeatures }[]>();
  for (const [body, shape] of bodies.entries()) {
    const tolerance = toleranceFor(shape.diagonal, options);
    const key = `${kindsOf(shape)}|${options.keyOf?.(body) ?? ''}`;
    const known = byKey.get(key) ?? [];
    byKey.set(key, known);
    const near = candidates(known, shape, tolerance);
    let mirrorOf: number | null = null;
    let found = false;
    const toleranceWith = (other: ShapeFeatures) =>
      Math.min(tolerance, toleranceFor(other.diagonal, options));
    for (const { group, shape: other } of near) {
      const motion = findMotion(other, shape, toleranceWith(other));
      if (!motion) continue;
      groups[group]!.members.push({ body, placement: motion.matrix });
      found = true;
      break;
    }
    if (found) continue;
    for (const { group, shape: other } of near) {
      if (groups[group]!.mirrorOf !== null || !findMotion(other, shape, toleranceWith(other), true)) continue;
      mirrorOf = group;
      groups[group]!.mirrorOf = groups.length;
      break;
    }
    insert(known, { group: groups.length, shape });
    groups.push({ members: [{ body, placement: IDENTITY }], mirrorOf });
  }
  return groups;
}

function kindsOf({ features }: ShapeFeatures): string {
  const counts = new Map<string, number>();
  for (const { kind } of features) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  return [...counts].sort(([a], [b]) => (a < b ? -1 : 1)).join(';');
}

/** Shapes in order of area, so that those near a given one stand together. */
function insert(
  known: { group: number; shape: ShapeFeatures }[],
  entry: { group: number; shape: ShapeFeatures },
): void {
  known.splice(firstAtLeast(known, entry.shape.area), 0, entry);
}

function firstAtLeast(known: readonly { shape: ShapeFeatures }[], area: number): number {
  let low = 0;
  let high = known.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (known[middle]!.shape.area < area) low = middle + 1;
    else high = middle;
  }
  return low;
}

function candidates(
  known: readonly { group: number; shape: ShapeFeatures }[],
  { area, volume, moments, diagonal }: ShapeFeatures,
  tolerance: number,
): { group: number; shape: ShapeFeatures }[] {
  // A surface moved by the tolerance everywhere changes the volume by area x tolerance, and the area by about the
  // outline of its faces x tolerance, which the diagonal and the root of the area bound well enough for a first look.
  const areaSlack = tolerance * 12 * (diagonal + Math.sqrt(area));
  const volumeSlack = tolerance * area;
  // No point of the surface is farther from the centre than the diagonal; principal values change by no more than the
  // tensor does (Weyl). The integration has a rounding of its own.
  const momentSlack = volumeSlack * diagonal ** 2 + 1e-6 * moments[2];
  const found = [];
  for (let n = firstAtLeast(known, area - areaSlack); n < known.length; n++) {
    const entry = known[n]!;
    if (entry.shape.area > area + areaSlack) break;
    if (Math.abs(entry.shape.volume - volume) > volumeSlack) continue;
    if (moments.every((moment, axis) => Math.abs(entry.shape.moments[axis]! - moment) <= momentSlack))
      found.push(entry);
  }
  return found;
}
