import { DisjointSets } from '#core/disjoint-sets';
import {
  type Boundary,
  type BoundaryFace,
  type Edge,
  startOf,
  type Use,
  type Vertex,
} from '#core/geometry/boundary/boundary';
import { isSameCurve } from '#core/geometry/boundary/edge-curves';
import { edgesOf, followersIn, loopsOf, markedLoops } from '#core/geometry/boundary/loops';
import { lieInOneSurface } from '#core/geometry/boundary/one-surface';
import { sampledCurve } from '#core/geometry/boundary/sampled-curve';
import { groupBy } from '#core/multimap';

/**
 * Makes one face of faces that lie in one surface and meet in an edge. Where their loops would not close, they stay.
 * @param mayGo whether a face may be changed
 * @returns how many faces have gone
 */
export function joinFaces(boundary: Boundary, mayGo: (face: BoundaryFace) => boolean = () => true): number {
  const uses = boundary.uses();
  // 1. Faces that belong together.
  const { faces } = boundary;
  const places = new Map(faces.map((face, n) => [face, n]));
  const sets = new DisjointSets(faces.length);
  for (const [one, other] of uses.values()) {
    const [a, b] = [one!.face, other!.face];
    if (a !== b && mayGo(a) && mayGo(b) && lieInOneSurface(a, b)) sets.join(places.get(b)!, places.get(a)!);
  }

  // 2. Edges between them go: a loop that comes to one goes on in the other face.
  const gone = new Set<BoundaryFace>();
  for (const [first, own] of groupBy(faces, (face) => sets.of(places.get(face)!))) {
    if (own.length === 1) continue;
    const face = faces[first]!;
    const members = new Set(own);
    const followers = followersIn(members);
    const shared = new Set<Edge>();
    for (const member of members)
      for (const edge of edgesOf(member)) {
        const [one, other] = uses.get(edge)!;
        if (one!.face !== other!.face && members.has(one!.face) && members.has(other!.face)) shared.add(edge);
      }
    const left = new Set([...followers.keys()].filter(({ edge }) => !shared.has(edge)));
    for (const use of left) {
      let next = followers.get(use)!;
      for (let turns = 0; shared.has(next.edge) && turns <= shared.size * 2; turns++) {
        const twin = uses.get(next.edge)!.find(({ use: candidate }) => candidate !== next)!.use;
        next = followers.get(twin)!;
      }
      followers.set(use, next);
    }
    const loops = loopsOf(left, followers);
    if (!loops || loops.length === 0) continue;
    face.loops = markedLoops(face, loops);
    for (const other of members) if (other !== face) gone.add(other);
  }
  boundary.remove(gone);
  return gone.size;
}

/**
 * Makes one edge of two that go on in one curve, where nothing else meets: so nothing tells where a slot was. Linear in edges.
 * @param mayGo whether a face may be changed
 */
export function joinEdges(boundary: Boundary, mayGo: (face: BoundaryFace) => boolean = () => true): void {
  const uses = boundary.uses();
  const ends = new Map<Vertex, Set<Edge>>();
  for (const edge of uses.keys())
    for (const vertex of [edge.from, edge.to]) ends.set(vertex, (ends.get(vertex) ?? new Set()).add(edge));
  for (const [vertex, edges] of ends) {
    const [one, other, ...more] = edges;
    if (!one || !other || more.length > 0 || one.from === one.to || other.from === other.to) continue;
    if (!isSameCurve(one.curve, other.curve)) continue;
    const [a, c] = [one, other].map(({ from, to }) => (from === vertex ? to : from)) as [Vertex, Vertex];
    if (a === c && one.curve.kind === 'line') continue;
    const [from, to] = one.to === vertex ? [a, c] : [c, a];
    const { curve, isSame } = one;
    const joined: Edge = {
      from,
      to,
      curve,
      isSame,
      points: sampledCurve(curve, from.point, to.point, isSame),
    };
    const own = uses.get(one)!;
    if (own.some(({ face }) => !mayGo(face))) continue;
    const places = own.map(({ face, loop, use }) => {
      const at = loop.uses.indexOf(use);
      const [before, behind] = [loop.uses.at(at - 1)!, loop.uses[(at + 1) % loop.uses.length]!];
      const isBehind = startOf(use) === vertex;
      return { face, loop, use, neighbour: isBehind ? before : behind };
    });
    if (places.some(({ neighbour }) => neighbour.edge !== other)) continue;
    for (const { loop, use, neighbour } of places) {
      const joinedUse: Use = { edge: joined, isForward: use.isForward };
      const left = loop.uses.flatMap((candidate) =>
        candidate === use ? [joinedUse] : candidate === neighbour ? [] : [candidate],
      );
      loop.uses = left;
      delete loop.written;
    }
    uses.delete(one);
    uses.delete(other);
    uses.set(
      joined,
      places.map(({ face, loop, use: { isForward } }) => ({
        face,
        loop,
        use: loop.uses.find((use) => use.edge === joined && use.isForward === isForward)!,
      })),
    );
    for (const end of [a, c]) {
      const known = ends.get(end)!;
      known.delete(one);
      known.delete(other);
      known.add(joined);
    }
  }
}
