import { bendOf, middleOf, normalAt, SMOOTH } from '#core/geometry/boundary/bend';
import type { Boundary, BoundaryFace, Edge, UseInFace } from '#core/geometry/boundary/boundary';
import { edgesOf } from '#core/geometry/boundary/loops';
import { areParallel, axisOf, originOf } from '#core/geometry/fill/surfaces';
import { diagonalOf, emptyBox, growBox } from '#core/product/box';
import { distance, distanceFromLine, dot } from '#core/product/vector';

/** A round or a bevel along an edge: what it lies between would meet in a sharp edge without it. */
export interface Blend {
  face: BoundaryFace;
  /** The edges along which it meets the two faces that it lies between. */
  contacts: [Edge, Edge];
}

/** Rounds and bevels that hang together, with the small faces where they meet in corners. */
export interface BlendChain {
  blends: Blend[];
  corners: BoundaryFace[];
}

/** What bevels turn by at each of their two edges, and in all, radians. */
const LEAST_BEVEL = 0.17;
const MOST_BEVEL = 1.4;
const MOST_TURN = 2.7;
/** Narrower than this nothing is a bevel, mm. */
const NARROWEST = 1e-3;
/** What numbers are rounded by in files, mm. */
const ROUNDED = 1e-6;
/** A corner is no larger than this many of the rounds that meet in it. */
const CORNER = 4;

type Uses = ReadonlyMap<Edge, readonly UseInFace[]>;

/**
 * Finds rounds (their surfaces go over smoothly into both sides) and bevels that are no wider than asked for. What a round lies on, and is one
 * itself, waits until that round has gone. Linear in edges.
 * @param most radius of a round, and what a bevel takes off each side, mm
 */
export function findBlends(boundary: Boundary, most: number): BlendChain[] {
  const uses = boundary.uses();
  const blends = new Map<BoundaryFace, Blend>();
  for (const face of boundary.faces) {
    const contacts = contactsOf(face, uses, most);
    if (contacts) blends.set(face, { face, contacts });
  }
  for (const face of hostsAmong(blends, uses)) blends.delete(face);

  // Faces that have blends all around are the corners in which these meet.
  const isContact = new Map<Edge, Set<BoundaryFace>>();
  for (const { face, contacts } of blends.values())
    for (const edge of contacts) isContact.set(edge, (isContact.get(edge) ?? new Set()).add(face));
  const corners = boundary.faces.filter((face) => {
    if (blends.has(face) || sizeOf(face) > CORNER * most) return false;
    const edges = [...edgesOf(face)];
    return (
      edges.length > 0 &&
      edges.every((edge) => {
        const other = across(uses, edge, face);
        return other !== undefined && blends.has(other) && !isContact.get(edge)?.has(other);
      })
    );
  });
  return chainsOf(blends, new Set(corners), uses);
}

/** Blends on which others lie: these go first. */
function hostsAmong(blends: ReadonlyMap<BoundaryFace, Blend>, uses: Uses): Set<BoundaryFace> {
  const hosts = new Set<BoundaryFace>();
  for (const { face, contacts } of blends.values())
    for (const edge of contacts) {
      const host = across(uses, edge, face);
      if (host && blends.has(host)) hosts.add(host);
    }
  return hosts;
}

function chainsOf(
  blends: ReadonlyMap<BoundaryFace, Blend>,
  corners: ReadonlySet<BoundaryFace>,
  uses: Uses,
): BlendChain[] {
  const chains: BlendChain[] = [];
  const seen = new Set<BoundaryFace>();
  for (const start of blends.keys()) {
    if (seen.has(start)) continue;
    const chain: BlendChain = { blends: [], corners: [] };
    const queue = [start];
    seen.add(start);
    for (const face of queue) {
      const blend = blends.get(face);
      if (blend) chain.blends.push(blend);
      else chain.corners.push(face);
      for (const edge of edgesOf(face)) {
        const other = across(uses, edge, face);
        if (!other || seen.has(other) || !(blends.has(other) || corners.has(other))) continue;
        seen.add(other);
        queue.push(other);
      }
    }
    chains.push(chain);
  }
  return chains;
}

/** The face on the other side of an edge; undefined for a seam. */
export function across(uses: Uses, edge: Edge, face: BoundaryFace): BoundaryFace | undefined {
  return uses.get(edge)!.find(({ face: other }) => other !== face)?.face;
}

/** The two edges along which a face is a round or a bevel between others; undefined where it is none. */
function contactsOf(face: BoundaryFace, uses: Uses, most: number): [Edge, Edge] | undefined {
  const { surface } = face;
  if (surface.kind === 'other' || surface.kind === 'sphere') return undefined;
  if (surface.kind === 'cylinder' && surface.radius > most + ROUNDED) return undefined;
  if (surface.kind === 'torus' && surface.minor > most + ROUNDED) return undefined;
  const isRound = surface.kind === 'cylinder' || surface.kind === 'torus';
  const along = [...new Set(edgesOf(face))].filter((edge) => leadsAlong(face, edge));
  const sides = along.flatMap((edge) => {
    const host = across(uses, edge, face);
    const bend = host && bendOf(uses.get(edge)!);
    if (!bend) return [];
    const isSide = isRound ? bend.turn < SMOOTH : bend.turn > LEAST_BEVEL && bend.turn < MOST_BEVEL;
    return isSide ? [{ edge, host, bend }] : [];
  });
  let [best, longest]: [[Edge, Edge] | undefined, number] = [undefined, 0];
  for (const [n, one] of sides.entries())
    for (const other of sides.slice(n + 1)) {
      if (one.host === other.host) continue;
      if (isRound) {
        if (sides.length > 2 || !turnsLessThanHalf(face, one.edge, other.edge)) continue;
      } else {
        const turn = one.bend.turn + other.bend.turn;
        if (one.bend.isConvex !== other.bend.isConvex || turn > MOST_TURN) continue;
        const steeper = Math.max(Math.sin(one.bend.turn), Math.sin(other.bend.turn));
        const width = widthBetween(one.edge, other.edge);
        // Of no width are two edges in one line, on a face that has a bevel beyond each.
        if (width < NARROWEST || (width * steeper) / Math.sin(turn) > most + ROUNDED) continue;
      }
      const long = Math.min(lengthOf(one.edge), lengthOf(other.edge));
      if (long > longest) [best, longest] = [[one.edge, other.edge], long];
    }
  return best;
}

/** Whether an edge runs the way that a round or a bevel does: straight, or about its axis. */
function leadsAlong({ surface }: BoundaryFace, { curve }: Edge): boolean {
  if (surface.kind === 'plane' || surface.kind === 'cylinder') return curve.kind === 'line';
  if (surface.kind === 'other' || curve.kind !== 'circle') return false;
  const axis = axisOf(surface.placement);
  const off = distanceFromLine(originOf(curve.placement), originOf(surface.placement), axis);
  return areParallel(axisOf(curve.placement), axis) && off < 1e-6 * (1 + curve.radius);
}

function turnsLessThanHalf(face: BoundaryFace, one: Edge, other: Edge): boolean {
  const [a, b] = [normalAt(face, middleOf(one)), normalAt(face, middleOf(other))];
  return a !== undefined && b !== undefined && dot(a, b) > Math.cos(MOST_TURN);
}

/** How far apart two edges run beside each other, mm; Infinity where they do not. */
function widthBetween(one: Edge, other: Edge): number {
  const [a, b] = [one.curve, other.curve];
  if (a.kind === 'line' && b.kind === 'line')
    return areParallel(a.direction, b.direction) ? distanceFromLine(b.at, a.at, a.direction) : Infinity;
  if (a.kind !== 'circle' || b.kind !== 'circle') return Infinity;
  return Math.hypot(distance(originOf(a.placement), originOf(b.placement)), a.radius - b.radius);
}

function lengthOf({ points }: Edge): number {
  return points.slice(1).reduce((sum, point, n) => sum + distance(points[n]!, point), 0);
}

function sizeOf(face: BoundaryFace): number {
  const box = emptyBox();
  for (const { points } of edgesOf(face)) for (const point of points) growBox(box, point);
  return diagonalOf(box);
}
