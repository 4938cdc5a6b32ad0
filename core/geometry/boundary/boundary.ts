import type { Part21File } from '#core/files/part21/file';
import { isTrue, referenceOf } from '#core/files/part21/parameters';
import type { Surface } from '#core/geometry/fill/surfaces';
import { triple } from '#core/geometry/fill/surfaces';
import { OddTopology, type Topology } from '#core/geometry/fill/topology';
import { append } from '#core/multimap';
import type { Vector3 } from '#core/product/matrix';
import { type EdgeCurve, readEdgeCurve } from './edge-curves';

/** A corner of a solid. What is `written` stands in the file, and is referred to by its number. */
export interface Vertex {
  point: Vector3;
  /** VERTEX_POINT */
  written?: number;
}

export interface Edge {
  from: Vertex;
  to: Vertex;
  curve: EdgeCurve;
  /** Whether it leads the way of its curve. */
  isSame: boolean;
  /** Along it, from its start to its end, mm. */
  points: readonly Vector3[];
  /** EDGE_CURVE */
  written?: number;
}

/** An edge as a loop goes along it: the face lies on its left, seen from outside. */
export interface Use {
  edge: Edge;
  isForward: boolean;
}

export interface BoundaryLoop {
  /** In order; none where a single vertex bounds the face. */
  uses: Use[];
  /** Whether it bounds a hole in the face, or a boss on it. */
  isInner: boolean;
  /** FACE_BOUND or FACE_OUTER_BOUND, while it is as it was. */
  written?: number;
}

export interface BoundaryFace {
  /** ADVANCED_FACE */
  written: number;
  shell: number;
  /** Its position in the shells, as they were read. */
  position: number;
  surface: Surface;
  /** Whether the surface's normal points out of the body. */
  isSame: boolean;
  loops: BoundaryLoop[];
}

/** The use of an edge by a face. */
export interface UseInFace {
  face: BoundaryFace;
  loop: BoundaryLoop;
  use: Use;
}

/**
 * The boundary of a solid, to be changed: faces are taken out, edges are moved, and what remains closes again. Every edge is used twice, once each
 * way.
 */
export class Boundary {
  /** Faces that have gone, by their shells. */
  readonly gone: BoundaryFace[] = [];

  constructor(
    public faces: BoundaryFace[],
    /** Size of the file's length unit. */
    readonly millimetres: number,
  ) {}

  /** Where each edge is used. Linear in edges. */
  uses(): Map<Edge, UseInFace[]> {
    const uses = new Map<Edge, UseInFace[]>();
    for (const face of this.faces)
      for (const loop of face.loops) for (const use of loop.uses) append(uses, use.edge, { face, loop, use });
    return uses;
  }

  remove(faces: ReadonlySet<BoundaryFace>): void {
    for (const face of faces) this.gone.push(face);
    this.faces = this.faces.filter((face) => !faces.has(face));
  }
}

export function startOf({ edge, isForward }: Use): Vertex {
  return isForward ? edge.from : edge.to;
}

export function endOf({ edge, isForward }: Use): Vertex {
  return isForward ? edge.to : edge.from;
}

/** @throws OddTopology where an edge is not used once each way */
export function readBoundary(file: Part21File, topology: Topology, millimetres: number): Boundary {
  const vertices = new Map<number, Vertex>();
  const vertex = (written: number): Vertex => {
    const known = vertices.get(written);
    if (known) return known;
    const point = file.entity(referenceOf(file.parameters(written)?.[1]), 'CARTESIAN_POINT')?.[1];
    const made = { point: triple(point, millimetres) ?? ([0, 0, 0] as const), written };
    vertices.set(written, made);
    return made;
  };
  const edges = new Map<number, Edge>();
  const edge = (written: number): Edge => {
    const known = edges.get(written);
    if (known) return known;
    const [, from, to, curve, sense] = file.parameters(written)!;
    const made: Edge = {
      from: vertex(referenceOf(from)!),
      to: vertex(referenceOf(to)!),
      curve: readEdgeCurve(file, referenceOf(curve)!, millimetres),
      isSame: isTrue(sense),
      points: topology.points.get(written)!,
      written,
    };
    edges.set(written, made);
    return made;
  };
  const faces = topology.faces.map(({ id, shell, surface, isSame, loops }, position): BoundaryFace => {
    const own = loops.flatMap(({ bound, isInner, oriented = [], isReversed }): BoundaryLoop[] => {
      if (bound < 0) return [];
      const uses = oriented.map(({ edge: number, isForward }) => ({ edge: edge(number), isForward }));
      const inOrder = isReversed
        ? uses.map((use) => ({ ...use, isForward: !use.isForward })).reverse()
        : uses;
      return [{ uses: inOrder, isInner, written: bound }];
    });
    return { written: id, shell, position, surface, isSame, loops: own };
  });
  turnAlike(faces);
  return new Boundary(faces, millimetres);
}

/**
 * Turns the loops of faces round that go along edges the same way as their neighbours do: the bounds of some systems' rings say the contrary of
 * what they mean. Most faces are right.
 * @throws OddTopology where that cannot be done
 */
function turnAlike(faces: readonly BoundaryFace[]): void {
  const uses = new Boundary([...faces], 1).uses();
  const isTurned = new Map<BoundaryFace, boolean>();
  for (const start of faces) {
    if (isTurned.has(start)) continue;
    const shell = [start];
    isTurned.set(start, false);
    for (const face of shell)
      for (const { uses: own } of face.loops)
        for (const { edge } of own) {
          const [one, other] = uses.get(edge)!;
          if (!one || !other) throw new OddTopology('an edge has one face only');
          const isAlike = one.use.isForward !== other.use.isForward;
          const next = one.face === face ? other.face : one.face;
          const turned = isTurned.get(face)! !== !isAlike;
          if (!isTurned.has(next)) shell.push(next);
          else if (isTurned.get(next) !== turned)
            throw new OddTopology('an edge is not gone along once each way');
          isTurned.set(next, turned);
        }
    const turned = shell.filter((face) => isTurned.get(face));
    const wrong = turned.length * 2 > shell.length ? shell.filter((face) => !isTurned.get(face)) : turned;
    for (const face of wrong)
      for (const loop of face.loops)
        loop.uses = loop.uses.map((use) => ({ ...use, isForward: !use.isForward })).reverse();
  }
}
