import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { diagonalOf, emptyBox, growBox } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { isWithin } from '#core/product/outline';
import {
  across,
  add,
  cross,
  distance,
  distanceFromLine,
  dot,
  scale,
  subtract,
  unit,
} from '#core/product/vector';
import type { OpeningKind } from './opening-kinds';
import { areParallel, axisOf, offSurface, originOf } from './surfaces';
import type { Face, Topology } from './topology';

/** A face that stays, by position, and a bound that it loses. */
export interface Rim {
  face: number;
  bound: number;
  /** All faces that the rim lies in: two where it crosses the edge between them. */
  hosts: readonly number[];
}

/** Something that can be filled: faces that go, and the bounds that lead to them. */
export interface Opening {
  kind: OpeningKind;
  /** Positions of the faces that go. */
  faces: number[];
  /** Where it opens: the face that stays, by position, and the bound that it loses. */
  rims: Rim[];
  /** Of a hole: its diameters from the mouth inwards, mm. */
  diameters: number[];
  /** Size of the largest mouth, mm; of a void the diagonal of its box. */
  mouth: number;
  /** mm; of a through hole its length. */
  depth: number;
  /** How far it reaches below the face that it opens in, mm. */
  below: number;
  isThrough: boolean;
}

/** Walls lie below the surface that they open in, up to this part of a body's size. */
const BELOW = 1e-5;

/**
 * Finds everything in a solid that can be filled: sets of faces that hang together with the rest by inner bounds only, all of
 * which are holes in the faces that stay. Linear in faces and edges.
 * @param mesh of the body: what rises above a rim is a boss, and no hole
 */
export function findOpenings(topology: Topology, mesh: GeometryOfBody): Opening[] {
  const { faces, shells } = topology;
  // 1. Faces that hang together across edges of which no inner bound is made.
  const component = new Int32Array(faces.length).fill(-1);
  const walls = new Set<number>();
  for (const { loops } of faces)
    for (const { isInner, edges } of loops) if (isInner) for (const edge of edges) walls.add(edge);
  let components = 0;
  for (let start = 0; start < faces.length; start++) {
    if (component[start] !== -1) continue;
    const queue = [start];
    component[start] = components;
    for (const face of queue)
      for (const { edges } of faces[face]!.loops)
        for (const edge of edges) {
          if (walls.has(edge)) continue;
          for (const { face: other } of topology.uses.get(edge)!)
            if (component[other] === -1) {
              component[other] = components;
              queue.push(other);
            }
        }
    components++;
  }

  // 2. Each inner bound leads from the component of its face to what lies across.
  interface Arc extends Rim {
    to: Set<number>;
  }
  const arcsFrom: Arc[][] = Array.from({ length: components }, () => []);
  for (const [n, { loops }] of faces.entries())
    for (const { isInner, edges, bound, hosts = [n] } of loops) {
      if (!isInner) continue;
      const to = new Set<number>();
      for (const edge of edges)
        for (const { face } of topology.uses.get(edge)!) if (!hosts.includes(face)) to.add(component[face]!);
      arcsFrom[component[n]!]!.push({ face: n, bound, hosts, to });
    }

  // 3. A component with everything that it leads to, where all ways in are holes.
  const found = new Map<string, Opening>();
  const trees = new MeshPlaces(mesh);
  for (let start = 0; start < components; start++) {
    const set = new Set([start]);
    for (const one of set) for (const { to } of arcsFrom[one]!) for (const other of to) set.add(other);
    const members = [...faces.keys()].filter((n) => set.has(component[n]!));
    if (members.length === faces.length) continue;
    const key = members.join(' ');
    if (found.has(key)) continue;
    const rims = arcsFrom.flatMap((arcs, from) =>
      set.has(from) ? [] : arcs.filter(({ to }) => [...to].some((other) => set.has(other))),
    );
    const isWhole = rims.every(({ to }) => [...to].every((other) => set.has(other)));
    if (rims.length === 0 || !isWhole) continue;
    if (!rims.every((rim) => isHole(topology, trees, rim, members))) continue;
    found.set(
      key,
      described(
        topology,
        trees,
        members,
        rims.map(({ face, bound, hosts }) => ({ face, bound, hosts })),
      ),
    );
  }

  // 4. Inner shells are openings that nothing leads to.
  for (const shell of shells.slice(1)) {
    const members = [...faces.keys()].filter((n) => faces[n]!.shell === shell);
    const size = trees.extent(members);
    found.set(members.join(' '), {
      kind: 'void',
      faces: members,
      rims: [],
      diameters: [],
      mouth: size,
      depth: size,
      below: size,
      isThrough: false,
    });
  }
  return [...found.values()].sort((a, b) => b.faces.length - a.faces.length || a.faces[0]! - b.faces[0]!);
}

/** Where the faces of a mesh lie. */
class MeshPlaces {
  constructor(private readonly mesh: GeometryOfBody) {}

  get size(): number {
    return diagonalOf(this.mesh.box);
  }

  /** Corners of the triangles of a face. */
  *corners(face: number): Iterable<Vector3> {
    const { positions, faceGroups, levels } = this.mesh;
    const { triangles } = levels[0]!;
    const from = faceGroups[2 * face] ?? 0;
    for (let n = from, end = from + (faceGroups[2 * face + 1] ?? 0); n < end; n++) {
      const at = 3 * triangles[n]!;
      yield [positions[at]!, positions[at + 1]!, positions[at + 2]!];
    }
  }

  /** The same, and the middles of triangles: a straight wall has its corners on the rims only. */
  *cornersAndMiddles(face: number): Iterable<Vector3> {
    let sum: Vector3 = [0, 0, 0];
    let corners = 0;
    for (const point of this.corners(face)) {
      yield point;
      sum = add(sum, point);
      if (++corners % 3 > 0) continue;
      yield scale(sum, 1 / 3);
      sum = [0, 0, 0];
    }
  }

  /** Diagonal of the box around some faces. */
  extent(faces: readonly number[]): number {
    const box = emptyBox();
    for (const face of faces) for (const point of this.corners(face)) growBox(box, point);
    return diagonalOf(box);
  }

  /** The corners of a face's triangle that lies nearest to a point. */
  nearest(face: number, point: Vector3): [Vector3, Vector3, Vector3] | undefined {
    let best: [Vector3, Vector3, Vector3] | undefined;
    let least = Infinity;
    let triangle: Vector3[] = [];
    for (const corner of this.corners(face)) {
      triangle.push(corner);
      if (triangle.length < 3) continue;
      const middle = triangle.map(
        (_, axis) => (triangle[0]![axis as 0]! + triangle[1]![axis as 0]! + triangle[2]![axis as 0]!) / 3,
      ) as unknown as Vector3;
      const off = Math.min(...triangle.map((corner) => distance(corner, point)), distance(middle, point));
      if (off < least) {
        least = off;
        best = triangle as [Vector3, Vector3, Vector3];
      }
      triangle = [];
    }
    return best;
  }
}

/** Whether what an inner bound leads to lies below the face that it is in. */
function isHole(
  topology: Topology,
  places: MeshPlaces,
  { face, bound, hosts }: Rim,
  members: readonly number[],
): boolean {
  const host = topology.faces[face]!;
  const loop = host.loops.find((candidate) => candidate.bound === bound)!;
  const inside = new Set(members);
  const beyond = new Set(
    loop.edges.flatMap((edge) =>
      topology.uses.get(edge)!.flatMap(({ face: other }) => (inside.has(other) ? [other] : [])),
    ),
  );
  const side = host.isSame ? 1 : -1;
  let [below, above] = [0, 0];
  for (const other of beyond)
    for (const point of places.cornersAndMiddles(other)) {
      const off = offSurface(host.surface, point);
      if (off === undefined) return isConvex(topology, places, hosts, loop.edges, inside);
      below = Math.min(below, off * side);
      above = Math.max(above, off * side);
    }
  // The mesh of a curved face lies off it by its chord.
  const isCurved = host.surface.kind !== 'plane';
  if (above > BELOW * places.size)
    return isCurved && above < -0.2 * below && isConvex(topology, places, hosts, loop.edges, inside);
  return below < -BELOW * places.size && !risesThrough(places, host, loop.points, members);
}

/** Whether something of a set comes up through the mouth that would be closed: a pin in a pocket. For flat faces. */
function risesThrough(
  places: MeshPlaces,
  { surface, isSame }: Face,
  rim: readonly Vector3[],
  members: readonly number[],
): boolean {
  if (surface.kind !== 'plane') return false;
  const normal = isSame ? surface.normal : scale(surface.normal, -1);
  const [u, v] = across(normal);
  const flat = rim.map((point) => [dot(point, u), dot(point, v)] as const);
  const tolerance = BELOW * places.size;
  for (const face of members) {
    let triangle: { point: Vector3; off: number }[] = [];
    for (const point of places.corners(face)) {
      triangle.push({ point, off: dot(subtract(point, surface.at), normal) });
      if (triangle.length < 3) continue;
      const above = triangle.filter(({ off }) => off > tolerance);
      const under = triangle.filter(({ off }) => off < -tolerance);
      for (const high of above)
        for (const low of under) {
          const part = high.off / (high.off - low.off);
          const met = add(scale(high.point, 1 - part), scale(low.point, part));
          if (isWithin([flat], dot(met, u), dot(met, v))) return true;
        }
      triangle = [];
    }
  }
  return false;
}

/** For any surface: whether the walls go down from the rim, by the triangles on both sides of its edges. */
function isConvex(
  topology: Topology,
  places: MeshPlaces,
  hosts: readonly number[],
  edges: readonly number[],
  inside: ReadonlySet<number>,
): boolean {
  let down = 0;
  for (const edge of edges) {
    const along = topology.points.get(edge)!;
    const point = along[Math.floor(along.length / 2)]!;
    const used = topology.uses.get(edge)!;
    const face = used.find(({ face: other }) => hosts.includes(other))!.face;
    const wall = used.find(({ face: other }) => inside.has(other))!.face;
    const [here, there] = [places.nearest(face, point), places.nearest(wall, point)];
    if (!here || !there) continue;
    const normal = unit(cross(subtract(here[1], here[0]), subtract(here[2], here[0])));
    const offs = there.map((corner) => dot(subtract(corner, point), normal));
    down += Math.sign(offs[0]! + offs[1]! + offs[2]!);
  }
  return down < 0;
}

/** Says what a set of faces is, and how large. */
function described(
  { faces }: Topology,
  places: MeshPlaces,
  members: readonly number[],
  rims: Opening['rims'],
): Opening {
  const round = members.flatMap((n) => {
    const { surface } = faces[n]!;
    return surface.kind === 'cylinder' ? [surface] : [];
  });
  const [first] = round;
  const axis = first && axisOf(first.placement);
  const at = first && originOf(first.placement);
  const isCoaxial =
    axis !== undefined &&
    members.every((n) => {
      const { surface } = faces[n]!;
      if (surface.kind === 'other') return false;
      if (surface.kind === 'plane') return areParallel(surface.normal, axis);
      if (surface.kind === 'sphere')
        return distanceFromLine(originOf(surface.placement), at!, axis) < 1e-4 * places.size;
      return (
        areParallel(axisOf(surface.placement), axis) &&
        distanceFromLine(originOf(surface.placement), at!, axis) < 1e-4 * places.size
      );
    });
  const mouth = Math.max(
    ...rims.map(({ face, bound }) => sizeOf(faces[face]!.loops.find((loop) => loop.bound === bound)!.points)),
  );
  const direction = axis ?? directionOf(faces[rims[0]!.face]!);
  const depth = reachAlong(places, members, direction);
  const below = reachBelow(faces[rims[0]!.face]!, places, members) ?? depth;
  const isThrough = new Set(rims.map(({ face }) => face)).size > 1;
  const measured = { faces: [...members], rims, mouth, depth, below, isThrough };
  if (!isCoaxial) return { kind: 'pocket', diameters: [], ...measured };
  const diameters = [...new Set(round.map(({ radius }) => Number((2 * radius).toFixed(4))))].sort(
    (a, b) => b - a,
  );
  const kind = diameters.length > 1 ? 'counterbore' : 'hole';
  return { kind, diameters, ...measured };
}

/** The largest distance across a loop, mm. */
function sizeOf(points: readonly Vector3[]): number {
  let most = 0;
  for (let a = 0; a < points.length; a++)
    for (let b = a + 1; b < points.length; b++) most = Math.max(most, distance(points[a]!, points[b]!));
  return most;
}

function directionOf({ surface }: Face): Vector3 {
  if (surface.kind === 'plane') return surface.normal;
  return surface.kind === 'other' ? [0, 0, 1] : axisOf(surface.placement);
}

/** How far faces reach below the one that they open in, mm; undefined where no formula tells. */
function reachBelow(host: Face, places: MeshPlaces, members: readonly number[]): number | undefined {
  let below = 0;
  for (const face of members)
    for (const point of places.corners(face)) {
      const off = offSurface(host.surface, point);
      if (off === undefined) return undefined;
      below = Math.max(below, host.isSame ? -off : off);
    }
  return below;
}

function reachAlong(places: MeshPlaces, members: readonly number[], direction: Vector3): number {
  let [low, high] = [Infinity, -Infinity];
  for (const face of members)
    for (const point of places.corners(face)) {
      const along = dot(point, direction);
      low = Math.min(low, along);
      high = Math.max(high, along);
    }
  return high < low ? 0 : high - low;
}
