import type { Boundary, BoundaryFace, Edge, Use, Vertex } from '#core/geometry/boundary/boundary';
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
  { blends, corners }: BlendChain,
  most: number,
  mayGo: (face: BoundaryFace) => boolean,
): Sharpened | undefined {
  const uses = boundary.uses();
  const gone = new Set([...blends.map(({ face }) => face), ...corners]);
  const contacts = new Set(blends.flatMap((blend) => blend.contacts));

  // 1. Edges across a blend, and those of corners, shrink to points.
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

  // 2. Each point lies where everything meets that stays around it.
  const around = new Map<Vertex, { surfaces: Set<Surface>; curves: Set<EdgeCurve> }>();
  const moved = new Map<Edge, Edge>();
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
    if (!point || distance(point, start) > 4 * most) return undefined;
    points.set(cluster, { point });
  }
  const movedTo = (vertex: Vertex) => {
    const cluster = clusters.of(vertex);
    return cluster ? points.get(cluster)! : vertex;
  };

  // 3. The two edges of each blend become one, and edges that ended there go on.
  let off = 0;
  for (const {
    face,
    contacts: [one, other],
  } of blends) {
    const hosts = [one, other].map((edge) => across(uses, edge, face)!);
    const edge = edgeBetween(
      one,
      movedTo(one.from),
      movedTo(one.to),
      hosts.map(({ surface }) => surface),
    );
    if (!edge) return undefined;
    moved.set(one, edge);
    moved.set(other, edge);
    for (const point of edge.points) off = Math.max(off, Math.abs(offSurface(face.surface, point) ?? 0));
  }
  for (const corner of corners) {
    const cluster = clusters.of([...edgesOf(corner)][0]!.from)!;
    const { point } = points.get(cluster)!;
    const members = clusters.members().get(cluster)!;
    const far =
      offSurface(corner.surface, point) ?? Math.min(...members.map((one) => distance(one.point, point)));
    off = Math.max(off, Math.abs(far));
  }
  for (const edge of uses.keys()) {
    if (moved.has(edge) || lost.has(edge)) continue;
    const [from, to] = [movedTo(edge.from), movedTo(edge.to)];
    if (from === edge.from && to === edge.to) continue;
    const longer = edgeOn(edge, edge.curve, from, to);
    if (!longer) return undefined;
    moved.set(edge, longer);
  }

  // 4. The loops of what stays.
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
  for (const [face, own] of loops)
    face.loops = face.loops.map((loop, n) =>
      isUnchanged(loop.uses, own[n]!) ? loop : { uses: own[n]!, isInner: loop.isInner },
    );
  boundary.remove(gone);
  return { faces: [...gone].map(({ written }) => written), off };
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
