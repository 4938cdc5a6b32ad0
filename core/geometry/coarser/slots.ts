import { DisjointSets } from '#core/disjoint-sets';
import { bendOf, SMOOTH } from '#core/geometry/boundary/bend';
import {
  type Boundary,
  type BoundaryFace,
  type Edge,
  endOf,
  startOf,
  type Use,
  type UseInFace,
  type Vertex,
} from '#core/geometry/boundary/boundary';
import { isSameCurve, turnBetween } from '#core/geometry/boundary/edge-curves';
import { edgesOf, followersIn, loopsOf, markedLoops } from '#core/geometry/boundary/loops';
import { lieInOneSurface } from '#core/geometry/boundary/one-surface';
import { sampledCurve } from '#core/geometry/boundary/sampled-curve';
import { offSurface } from '#core/geometry/fill/surfaces';
import { append, groupBy } from '#core/multimap';
import type { Vector3 } from '#core/product/matrix';
import { distance, dot, subtract } from '#core/product/vector';

/** A slot, a notch, a groove or a row of them, open over edges of the body: what it would be filled with lies below the faces around it. */
interface Slot {
  faces: BoundaryFace[];
  /** The faces around it. */
  hosts: BoundaryFace[];
  /** How wide it is where it is open, mm. */
  mouth: number;
  /** Edges that close it: each goes on where an edge of the body is interrupted. */
  bridges: Bridge[];
}

interface Bridge {
  edge: Edge;
  /** Where it follows on uses of edges that end at it, and what then comes, there and back. */
  there: Passage;
  back: Passage;
}

interface Passage {
  face: BoundaryFace;
  before: Use;
  behind: Use;
  /** The face that goes on behind it: the same one, or one of the same surface. */
  next: BoundaryFace;
}

export interface ClosingSlots {
  /** Points of a face, mm. */
  pointsOf: (face: BoundaryFace) => Iterable<Vector3>;
  /** Of the body, mm. */
  size: number;
  /** Wider ones stay open, mm; null for all. */
  most: number | null;
  /** Whether a face may be taken away, or changed. */
  mayGo: (face: BoundaryFace) => boolean;
  /** Whether a face may go with a slot. */
  mayFill: (face: BoundaryFace) => boolean;
}

/** Fills what is open over edges of a body, one after another. @returns the faces of each, as they are written */
export function closeSlots(boundary: Boundary, { most, mayGo, mayFill, ...body }: ClosingSlots): number[][] {
  const done: number[][] = [];
  const tried = new Set<BoundaryFace>();
  for (;;) {
    // One that has gone changes the faces around the next.
    const slot = findSlots(boundary, body.pointsOf, body.size).find(
      ({ faces, hosts, mouth }) =>
        !tried.has(faces[0]!) &&
        (most === null || mouth <= most) &&
        faces.every(mayFill) &&
        [...faces, ...hosts].every(mayGo),
    );
    if (!slot) return done;
    tried.add(slot.faces[0]!);
    if (closeSlot(boundary, slot)) done.push(slot.faces.map(({ written }) => written));
  }
}

/** Walls lie below the faces that they open in, up to this part of the body's size. */
const BELOW = 1e-5;

type Uses = ReadonlyMap<Edge, readonly UseInFace[]>;

/**
 * Finds what is open over edges of a body: faces that hang together across inner corners, and that stand in outer corners to all faces around, where
 * each edge that they interrupt goes on behind them.
 * @param pointsOf points of a face, mm
 * @param size of the body, mm
 */
function findSlots(
  boundary: Boundary,
  pointsOf: (face: BoundaryFace) => Iterable<Vector3>,
  size: number,
): Slot[] {
  const uses = boundary.uses();
  const ends = edgesAt(uses);
  const seen = new Set<string>();
  const slots: Slot[] = [];
  const taken = new Set<BoundaryFace>();
  // Walls that go over smoothly into each other belong together, unless what they go over into is the outside.
  for (const isJoining of [isInner, isInnerOrSmooth])
    for (const faces of hangingTogether(boundary, uses, isJoining)) {
      const key = faces.map(({ position }) => position).join(' ');
      if (seen.has(key) || faces.some((face) => taken.has(face))) continue;
      seen.add(key);
      const slot = slotOf(faces, uses, ends, pointsOf, BELOW * size);
      if (!slot) continue;
      slots.push(slot);
      for (const face of faces) taken.add(face);
    }
  return slots;
}

const isInner = (used: readonly UseInFace[]) => {
  const bend = bendOf(used);
  return bend !== undefined && bend.turn > SMOOTH && !bend.isConvex;
};
const isInnerOrSmooth = (used: readonly UseInFace[]) => {
  const bend = bendOf(used);
  return bend !== undefined && (bend.turn <= SMOOTH || !bend.isConvex);
};

/** Sets of faces that hang together across edges of some kind, with what lies behind holes in them. */
function hangingTogether(
  boundary: Boundary,
  uses: Uses,
  isJoining: (used: readonly UseInFace[]) => boolean,
): BoundaryFace[][] {
  const joins = new Map<Edge, boolean>();
  for (const [edge, used] of uses) joins.set(edge, used[0]!.face !== used[1]!.face && isJoining(used));
  const sets: BoundaryFace[][] = [];
  const seen = new Set<BoundaryFace>();
  for (const start of boundary.faces) {
    if (seen.has(start)) continue;
    const set = new Set([start]);
    for (const face of set)
      for (const { uses: own, isInner: isHole } of face.loops)
        for (const { edge } of own)
          for (const { face: other, loop } of uses.get(edge)!)
            if (joins.get(edge) || (isHole && !loop.isInner)) set.add(other);
    for (const face of set) seen.add(face);
    sets.push([...set].sort((a, b) => a.position - b.position));
  }
  return sets;
}

/** The edges that begin or end at each corner. */
function edgesAt(uses: Uses): Map<Vertex, Edge[]> {
  const ends = new Map<Vertex, Edge[]>();
  for (const edge of uses.keys())
    for (const vertex of new Set([edge.from, edge.to])) append(ends, vertex, edge);
  return ends;
}

function slotOf(
  faces: readonly BoundaryFace[],
  uses: Uses,
  ends: ReadonlyMap<Vertex, readonly Edge[]>,
  pointsOf: (face: BoundaryFace) => Iterable<Vector3>,
  tolerance: number,
): Slot | undefined {
  const inside = new Set(faces);
  const isInside = ({ face }: UseInFace) => inside.has(face);
  // 1. The rims: outer corners all along.
  const rims = new Set<Edge>();
  const hosts = new Set<BoundaryFace>();
  for (const face of faces)
    for (const edge of edgesOf(face)) {
      const used = uses.get(edge)!;
      if (used.every(isInside)) continue;
      const bend = bendOf(used);
      if (!bend?.isConvex || bend.turn <= SMOOTH) return undefined;
      rims.add(edge);
      hosts.add(used.find((use) => !isInside(use))!.face);
    }
  if (rims.size === 0 || hosts.size === 0) return undefined;

  // 2. All of it lies below the faces around.
  for (const { surface, isSame } of hosts)
    for (const face of faces)
      for (const point of pointsOf(face)) {
        const off = offSurface(surface, point);
        if (off === undefined || off * (isSame ? 1 : -1) > tolerance) return undefined;
      }

  // 3. Edges that it interrupts, each with the one that goes on behind it.
  const open: { vertex: Vertex; edge: Edge }[] = [];
  for (const vertex of new Set([...rims].flatMap(({ from, to }) => [from, to]))) {
    const outside = ends.get(vertex)!.filter((edge) => !rims.has(edge) && !uses.get(edge)!.some(isInside));
    if (outside.length > 1) return undefined;
    if (outside[0]) open.push({ vertex, edge: outside[0] });
  }
  if (open.length === 0 || open.length % 2 === 1) return undefined;
  const bridges: Bridge[] = [];
  const left = new Set(open);
  for (const one of open) {
    if (!left.delete(one)) continue;
    const [nearest] = [...left]
      .flatMap((other) => {
        const bridge = bridgeBetween(one, other, uses);
        return bridge ? [{ other, bridge, far: distance(one.vertex.point, other.vertex.point) }] : [];
      })
      .sort((a, b) => a.far - b.far);
    if (!nearest) return undefined;
    left.delete(nearest.other);
    bridges.push(nearest.bridge);
  }
  const mouth = Math.max(...bridges.map(({ edge: { from, to } }) => distance(from.point, to.point)));
  return { faces: [...faces], hosts: [...hosts], mouth, bridges };
}

/** The edge between two corners at which edges on one curve break off towards each other; undefined where they do not. */
function bridgeBetween(
  one: { vertex: Vertex; edge: Edge },
  other: { vertex: Vertex; edge: Edge },
  uses: Uses,
): Bridge | undefined {
  const [a, b] = [one.vertex, other.vertex];
  const { curve, isSame } = one.edge;
  if (!isSameCurve(curve, other.edge.curve)) return undefined;
  // Behind the end of the first the curve goes on in the same sense.
  const isForward = one.edge.to === a;
  const [from, to] = isForward ? [a, b] : [b, a];
  const points = sampledCurve(curve, from.point, to.point, isSame);
  const edge: Edge = { from, to, curve, isSame, points };
  if (curve.kind === 'line') {
    const ahead = subtract(b.point, a.point);
    const [start, end] = [otherEnd(one.edge, a), otherEnd(other.edge, b)];
    if (dot(subtract(start.point, a.point), ahead) >= 0 || dot(subtract(end.point, b.point), ahead) <= 0)
      return undefined;
  } else if (curve.kind === 'circle') {
    // The second begins where the bridge ends, and leads on.
    if (one.edge !== other.edge && !goesOnBehind(other, one.edge, isForward)) return undefined;
    const [start, end] = isSame ? [from, to] : [to, from];
    if (turnBetween(curve, start.point, end.point) > 1.9 * Math.PI) return undefined;
  } else return undefined;
  const passages = passagesOf(one, other, uses);
  return passages && { edge, ...passages };
}

/** Whether an arc of the same circle leads away from its corner in the sense in which another one arrives. */
function goesOnBehind(
  { vertex, edge }: { vertex: Vertex; edge: Edge },
  arriving: Edge,
  isForward: boolean,
): boolean {
  const [a, b] = [arriving.curve, edge.curve];
  if (a.kind !== 'circle' || b.kind !== 'circle') return false;
  const column = (matrix: readonly number[]): Vector3 => [matrix[2]!, matrix[6]!, matrix[10]!];
  const areAlike = dot(column(a.placement), column(b.placement)) > 0;
  const sense = isForward === arriving.isSame;
  const leaves = (edge.from === vertex) === edge.isSame;
  return areAlike ? sense === leaves : sense !== leaves;
}

function otherEnd({ from, to }: Edge, vertex: Vertex): Vertex {
  return from === vertex ? to : from;
}

/** Where loops come to the gap on one side and go on on the other: in the same face, or in one of the same surface. */
function passagesOf(
  one: { vertex: Vertex; edge: Edge },
  other: { vertex: Vertex; edge: Edge },
  uses: Uses,
): Pick<Bridge, 'there' | 'back'> | undefined {
  const arriving = (end: typeof one) => uses.get(end.edge)!.find(({ use }) => endOf(use) === end.vertex);
  const leaving = (end: typeof one) => uses.get(end.edge)!.find(({ use }) => startOf(use) === end.vertex);
  const passage = (from: typeof one, to: typeof one): Passage | undefined => {
    const [before, behind] = [arriving(from), leaving(to)];
    if (!before || !behind || !lieInOneSurface(before.face, behind.face)) return undefined;
    return { face: before.face, before: before.use, behind: behind.use, next: behind.face };
  };
  const [there, back] = [passage(one, other), passage(other, one)];
  return there && back && { there, back };
}

/**
 * Fills a slot: its faces go, edges go on across it, and faces of one surface that it kept apart become one.
 * @returns whether it could be; else nothing is changed
 */
function closeSlot(boundary: Boundary, { faces, bridges }: Slot): boolean {
  const inside = new Set(faces);
  // 1. What follows on what: as before, and over the bridges.
  const followers = followersIn(boundary.faces);
  const added = new Map<BoundaryFace, Use[]>();
  const places = new Map(boundary.faces.map((face, n) => [face, n]));
  const sets = new DisjointSets(boundary.faces.length);
  const changed = new Set<BoundaryFace>();
  for (const { edge, there, back } of bridges)
    for (const { face, before, behind, next } of [there, back]) {
      const use = { edge, isForward: endOf(before) === edge.from };
      followers.set(before, use);
      followers.set(use, behind);
      append(added, face, use);
      sets.join(places.get(next)!, places.get(face)!);
      changed.add(face).add(next);
    }
  // 2. The loops of the faces around it, those of one surface together.
  const rims = new Set(faces.flatMap((face) => [...edgesOf(face)]));
  const hosts = boundary.faces.filter(
    (face) => !inside.has(face) && [...edgesOf(face)].some((edge) => rims.has(edge)),
  );
  const groups = groupBy(new Set([...hosts, ...changed]), (face) => sets.of(places.get(face)!));
  const results: { face: BoundaryFace; loops: Use[][]; members: BoundaryFace[] }[] = [];
  for (const [first, members] of groups) {
    const face = boundary.faces[first]!;
    const left = members.flatMap((member) => [
      ...member.loops.flatMap(({ uses: own }) => own.filter(({ edge }) => !rims.has(edge))),
      ...(added.get(member) ?? []),
    ]);
    const loops = loopsOf(new Set(left), followers);
    if (!loops || loops.length === 0) return false;
    results.push({ face, loops, members });
  }
  const gone = new Set(inside);
  for (const { face, loops, members } of results) {
    face.loops = markedLoops(face, loops);
    for (const member of members) if (member !== face) gone.add(member);
  }
  boundary.remove(gone);
  return true;
}
