import type { Boundary, BoundaryFace, Edge, Use, UseInFace, Vertex } from '#core/geometry/boundary/boundary';
import { type EdgeCurve, isSameCurve, offCurve, turnBetween } from '#core/geometry/boundary/edge-curves';
import { edgesOf, isClosed } from '#core/geometry/boundary/loops';
import { sampledCurve } from '#core/geometry/boundary/sampled-curve';
import { axisOf, offSurface, originOf, type Surface } from '#core/geometry/fill/surfaces';
import { middleOfPoints } from '#core/geometry/fill/topology';
import { append } from '#core/multimap';
import { placementFromAxes } from '#core/product/matrix';
import { distance, dot, offset, subtract, unit } from '#core/product/vector';
import { across, type BlendChain, findBlends } from './blends';
import { meetingPoint } from './meeting-point';

/** How far an edge may lie off the surfaces that meet in it, mm: files round their numbers. */
const CLOSE = 2e-5;
/** An arc that turns by so much more or less than before, radians, has turned round. */
const TURNED = Math.PI / 2;
/** So many times the size that is taken away may a point move at most: sharp corners stand out far. */
const FAR = 4;
/** Rounds lie on rounds, no deeper than that. */
const MOST_PASSES = 4;

/** Rounds and bevels that were taken away. */
export interface Sharpened {
  /** ADVANCED_FACEs */
  faces: number[];
  /** How far the edges that came of them lie from them at most, mm. */
  off: number;
}

/**
 * Makes sharp edges of rounds and bevels: the faces on both sides go on until they meet. A chain whose sides do not meet in a line or a circle, or
 * not in one point at a corner, stays.
 * @param most radius of a round, and what a bevel takes off each side, mm
 * @param mayGo whether a face may be taken away, or changed
 */
export function sharpen(
  boundary: Boundary,
  most: number,
  mayGo: (face: BoundaryFace) => boolean = () => true,
): Sharpened[] {
  const done: Sharpened[] = [];
  for (let pass = 0; pass < MOST_PASSES; pass++) {
    const before = done.length;
    const tried = new Set<BoundaryFace>();
    for (;;) {
      // One that has gone changes the edges of the next.
      const chain = findBlends(boundary, most).find(({ blends }) =>
        blends.every(({ face }) => !tried.has(face)),
      );
      if (!chain) break;
      for (const { face } of chain.blends) tried.add(face);
      const sharpened = sharpenChain(boundary, chain, most, mayGo);
      if (sharpened) done.push(sharpened);
    }
    if (done.length === before) break;
  }
  return done;
}

function sharpenChain(
  boundary: Boundary,
  chain: BlendChain,
  most: number,
  mayGo: (face: BoundaryFace) => boolean,
): Sharpened | undefined {
  const uses = boundary.uses();
  const shrunk = shrink(chain);
  const points = pointsAfter(boundary, shrunk, most, mayGo);
  if (!points) return undefined;
  const movedTo = (vertex: Vertex) => {
    const cluster = shrunk.clusters.of(vertex);
    return cluster ? points.get(cluster)! : vertex;
  };
  const moved = edgesAfter(uses, chain, shrunk, movedTo);
  const loops = moved && loopsAfter(boundary, shrunk, moved, movedTo);
  if (!loops) return undefined;
  const off = Math.max(
    ...chain.blends.flatMap(({ face, contacts: [edge] }) =>
      moved.get(edge)!.points.map((point) => Math.abs(offSurface(face.surface, point) ?? 0)),
    ),
    ...chain.corners.map((corner) => offCorner(corner, shrunk.clusters, points)),
  );
  for (const [face, own] of loops)
    face.loops = face.loops.map((loop, n) =>
      isUnchanged(loop.uses, own[n]!) ? loop : { uses: own[n]!, isInner: loop.isInner },
    );
  boundary.remove(shrunk.gone);
  return { faces: [...shrunk.gone].map(({ written }) => written), off };
}

/** What becomes of a chain: its faces go, edges across them and around corners shrink to points. */
interface Shrunk {
  gone: Set<BoundaryFace>;
  /** Vertices that become one point. */
  clusters: Clusters;
  /** Edges that shrink. */
  lost: Set<Edge>;
  /** Edges that two by two become one. */
  contacts: Set<Edge>;
}

function shrink({ blends, corners }: BlendChain): Shrunk {
  const gone = new Set([...blends.map(({ face }) => face), ...corners]);
  const contacts = new Set(blends.flatMap((blend) => blend.contacts));
  const clusters = new Clusters();
  const lost = new Set<Edge>();
  for (const face of gone)
    for (const edge of edgesOf(face)) {
      clusters.add(edge.from);
      clusters.add(edge.to);
      if (contacts.has(edge)) continue;
      clusters.join(edge.from, edge.to);
      lost.add(edge);
    }
  for (const {
    contacts: [one, other],
  } of blends)
    if (one.from === one.to && other.from === other.to) clusters.join(one.from, other.from);
  return { gone, clusters, lost, contacts };
}

/** Each point lies where everything meets that stays around it; undefined where that does not meet. */
function pointsAfter(
  boundary: Boundary,
  { gone, clusters, lost, contacts }: Shrunk,
  most: number,
  mayGo: (face: BoundaryFace) => boolean,
): Map<Vertex, Vertex> | undefined {
  const around = new Map<Vertex, { surfaces: Set<Surface>; curves: Set<EdgeCurve> }>();
  for (const face of boundary.faces) {
    if (gone.has(face)) continue;
    for (const edge of edgesOf(face))
      for (const vertex of [edge.from, edge.to]) {
        const cluster = clusters.of(vertex);
        if (!cluster) continue;
        if (!mayGo(face)) return undefined;
        const known = around.get(cluster) ?? { surfaces: new Set(), curves: new Set() };
        around.set(cluster, known);
        known.surfaces.add(face.surface);
        if (!contacts.has(edge) && !lost.has(edge)) known.curves.add(edge.curve);
      }
  }
  const points = new Map<Vertex, Vertex>();
  for (const [cluster, members] of clusters.members()) {
    const { surfaces, curves } = around.get(cluster) ?? { surfaces: [], curves: [] };
    if ([...curves].some(({ kind }) => kind === 'other')) return undefined;
    const start = middleOfPoints(members.map(({ point }) => point));
    const point = meetingPoint(start, [...surfaces], [...curves], CLOSE);
    if (!point || distance(point, start) > FAR * most) return undefined;
    points.set(cluster, { point });
  }
  return points;
}

/** The two edges of each blend become one, and edges that ended at it go on; undefined where one cannot. */
function edgesAfter(
  uses: ReadonlyMap<Edge, readonly UseInFace[]>,
  { blends }: BlendChain,
  { lost }: Shrunk,
  movedTo: (vertex: Vertex) => Vertex,
): Map<Edge, Edge> | undefined {
  const moved = new Map<Edge, Edge>();
  for (const { face, contacts } of blends) {
    const [one] = contacts;
    const surfaces = contacts.map((edge) => across(uses, edge, face)!.surface);
    const edge = edgeBetween(one, movedTo(one.from), movedTo(one.to), surfaces);
    if (!edge) return undefined;
    for (const contact of contacts) moved.set(contact, edge);
  }
  for (const edge of uses.keys()) {
    if (moved.has(edge) || lost.has(edge)) continue;
    const [from, to] = [movedTo(edge.from), movedTo(edge.to)];
    if (from === edge.from && to === edge.to) continue;
    const longer = edgeOn(edge, edge.curve, from, to);
    if (!longer) return undefined;
    moved.set(edge, longer);
  }
  return moved;
}

/** The loops of the faces that stay and are changed; undefined where one would not close. */
function loopsAfter(
  boundary: Boundary,
  { gone, lost }: Shrunk,
  moved: ReadonlyMap<Edge, Edge>,
  movedTo: (vertex: Vertex) => Vertex,
): Map<BoundaryFace, Use[][]> | undefined {
  const loops = new Map<BoundaryFace, Use[][]>();
  for (const face of boundary.faces) {
    if (gone.has(face) || ![...edgesOf(face)].some((edge) => moved.has(edge) || lost.has(edge))) continue;
    const own: Use[][] = [];
    for (const { uses: before } of face.loops) {
      const now = before.flatMap((use) => {
        if (lost.has(use.edge)) return [];
        const edge = moved.get(use.edge);
        return [edge ? { edge, isForward: leadsAlike(use.edge, edge, movedTo) === use.isForward } : use];
      });
      if (before.length > 0 && !isClosed(now)) return undefined;
      own.push(now);
    }
    loops.set(face, own);
  }
  return loops;
}

/** How far the point that a corner became lies off it, mm. */
function offCorner(corner: BoundaryFace, clusters: Clusters, points: ReadonlyMap<Vertex, Vertex>): number {
  const edges = [...edgesOf(corner)];
  const { point } = points.get(clusters.of(edges[0]!.from)!)!;
  const off = offSurface(corner.surface, point);
  return off === undefined
    ? Math.min(...edges.map(({ from }) => distance(from.point, point)))
    : Math.abs(off);
}

function isUnchanged(before: readonly Use[], now: readonly Use[]): boolean {
  return before.every((use, n) => use === now[n]);
}

/** Whether an edge leads the same way as the one that came of it. */
function leadsAlike(edge: Edge, now: Edge, movedTo: (vertex: Vertex) => Vertex): boolean {
  if (now.from !== now.to) return movedTo(edge.from) === now.from;
  const [a, b] = [edge.curve, now.curve];
  if (a.kind !== 'circle' || b.kind !== 'circle') return true;
  return dot(axisOf(a.placement), axisOf(b.placement)) > 0 === (edge.isSame === now.isSame);
}

/** The edge in which two surfaces meet that a blend lay between: a line, or a circle about the same axis as its edge had. */
function edgeBetween(
  contact: Edge,
  from: Vertex,
  to: Vertex,
  surfaces: readonly Surface[],
): Edge | undefined {
  const { curve } = contact;
  let found: EdgeCurve;
  if (curve.kind === 'line') {
    if (from === to) return undefined;
    const along = unit(subtract(to.point, from.point));
    const isSame = dot(along, curve.direction) > 0;
    found = { kind: 'line', at: from.point, direction: isSame ? along : [-along[0], -along[1], -along[2]] };
  } else if (curve.kind === 'circle') {
    const axis = axisOf(curve.placement);
    const middle = originOf(curve.placement);
    const centre = offset(middle, axis, dot(subtract(from.point, middle), axis));
    const radius = distance(centre, from.point);
    if (radius < CLOSE) return undefined;
    const placement = placementFromAxes(centre, axis, subtract(from.point, centre));
    found = { kind: 'circle', placement, radius };
  } else return undefined;
  const edge = edgeOn(contact, found, from, to);
  const isOn = edge?.points.every((point) =>
    surfaces.every((surface) => Math.abs(offSurface(surface, point) ?? Infinity) < CLOSE),
  );
  return isOn ? edge : undefined;
}

/** An edge like another one on some curve between other ends; undefined where these do not lie on it, or it would have turned round. */
function edgeOn(like: Edge, curve: EdgeCurve, from: Vertex, to: Vertex): Edge | undefined {
  for (const { point } of [from, to])
    if (offCurve(curve, point).some((off) => Math.abs(off) > CLOSE)) return undefined;
  if (curve.kind === 'line') {
    if (dot(subtract(to.point, from.point), subtract(like.to.point, like.from.point)) <= 0) return undefined;
  } else if (curve.kind === 'circle' && like.curve.kind === 'circle') {
    if ((like.from === like.to) !== (from === to)) return undefined;
    const [start, end] = like.isSame ? [from, to] : [to, from];
    const [first, last] = like.isSame ? [like.from, like.to] : [like.to, like.from];
    const turn = turnBetween(curve, start.point, end.point);
    const before = turnBetween(like.curve, first.point, last.point);
    if (Math.abs(turn - before) > TURNED) return undefined;
  } else return undefined;
  const kept = isSameCurve(curve, like.curve) ? like.curve : curve;
  const isSame = like.isSame;
  return { from, to, curve: kept, isSame, points: sampledCurve(kept, from.point, to.point, isSame) };
}

/** Vertices that become one, by one of them. */
class Clusters {
  private readonly parents = new Map<Vertex, Vertex>();

  add(vertex: Vertex): void {
    if (!this.parents.has(vertex)) this.parents.set(vertex, vertex);
  }

  /** undefined for a vertex that stays where it is. */
  of(vertex: Vertex): Vertex | undefined {
    const parent = this.parents.get(vertex);
    return parent === undefined || parent === vertex ? parent : this.of(parent);
  }

  join(one: Vertex, other: Vertex): void {
    const [a, b] = [this.of(one)!, this.of(other)!];
    if (a !== b) this.parents.set(a, b);
  }

  members(): Map<Vertex, Vertex[]> {
    const members = new Map<Vertex, Vertex[]>();
    for (const vertex of this.parents.keys()) append(members, this.of(vertex)!, vertex);
    return members;
  }
}
