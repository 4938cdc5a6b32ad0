import type { Part21File } from '#core/files/part21/file';
import { isTrue, referenceOf, referencesOf } from '#core/files/part21/parameters';
import { append } from '#core/multimap';
import { shellsOf } from '#core/product/faces';
import type { Vector3 } from '#core/product/matrix';
import type { Body } from '#core/product/structure';
import { length } from '#core/product/vector';
import { edgePoints } from './curves';
import { areaVector, unrolledArea, windsAround } from './loop-area';
import { addRims } from './rims';
import { readSurface, type Surface, triple } from './surfaces';
import { type Face, type Loop, OddTopology, type OrientedEdge, type Topology } from './topology';

/**
 * Reads the faces of a solid out of its text.
 * @param millimetres size of the file's length unit
 * @throws OddTopology for a body that is no plain closed boundary representation
 */
export function readTopology(file: Part21File, body: Body, millimetres: number): Topology {
  if (body.kind !== 'solid') throw new OddTopology('it is no solid');
  const shells = shellsOf(file, body);
  const topology: Topology = { faces: [], shells, uses: new Map(), points: new Map() };
  for (const shell of shells)
    for (const id of referencesOf(file.parameters(shell)?.[1]))
      topology.faces.push(readFace(file, id, shell, topology, millimetres));
  for (const [n, { loops }] of topology.faces.entries())
    for (const [at, { edges }] of loops.entries())
      for (const edge of edges) append(topology.uses, edge, { face: n, loop: at });
  for (const used of topology.uses.values())
    if (used.length !== 2) throw new OddTopology('it is not closed: an edge has not two faces');
  addRims(file, topology);
  return topology;
}

function readFace(
  file: Part21File,
  id: number,
  shell: number,
  topology: Topology,
  millimetres: number,
): Face {
  const type = file.typeOf(id);
  if (type !== 'ADVANCED_FACE' && type !== 'FACE_SURFACE')
    throw new OddTopology('it has faces of an odd kind');
  const parameters = file.parameters(id)!;
  const loops = referencesOf(parameters[1]).map((bound) => readLoop(file, bound, topology, millimetres));
  const surface = readSurface(file, referenceOf(parameters[2]), millimetres);
  const isSame = isTrue(parameters[3]);
  const outer = outerLoops(file, surface, isSame, loops);
  for (const [n, loop] of loops.entries()) loop.isInner = loop.edges.length > 0 && !outer.has(n);
  return { id, shell, surface, isSame, loops };
}

function readLoop(file: Part21File, bound: number, { points: known }: Topology, millimetres: number): Loop {
  const [, loop, orientation] = file.parameters(bound) ?? [];
  const path = referenceOf(loop);
  const kind = path === undefined ? undefined : file.typeOf(path);
  if (kind === 'VERTEX_LOOP') return { bound, edges: [], points: [], isInner: false };
  if (kind !== 'EDGE_LOOP') throw new OddTopology('it has bounds of an odd kind');
  const edges: number[] = [];
  const listed: OrientedEdge[] = [];
  const points: Vector3[] = [];
  for (const oriented of referencesOf(file.parameters(path)?.[1])) {
    const parameters = file.entity(oriented, 'ORIENTED_EDGE');
    const edge = referenceOf(parameters?.[3]);
    if (edge === undefined || file.typeOf(edge) !== 'EDGE_CURVE') throw new OddTopology('an edge is missing');
    let along = known.get(edge);
    if (!along) {
      const [, from, to, curve, sense] = file.parameters(edge)!;
      const vertex = (reference: typeof from) =>
        triple(
          file.entity(referenceOf(file.parameters(referenceOf(reference))?.[1]), 'CARTESIAN_POINT')?.[1],
          millimetres,
        ) ?? [0, 0, 0];
      const ends = { start: vertex(from), end: vertex(to), isSame: isTrue(sense) };
      along = edgePoints(file, referenceOf(curve), ends, millimetres);
      known.set(edge, along);
    }
    const isForward = isTrue(parameters?.[4]);
    const [, first, last] = file.parameters(edge)!.map(referenceOf);
    listed.push({
      id: oriented,
      edge,
      from: (isForward ? first : last) ?? -1,
      to: (isForward ? last : first) ?? -1,
      isForward,
    });
    edges.push(edge);
    points.push(...(isForward ? along : [...along].reverse()).slice(0, -1));
  }
  const isReversed = !isTrue(orientation);
  if (isReversed) points.reverse();
  return { bound, edges, points, isInner: false, path, oriented: listed, isReversed };
}

/** Which loops bound the face from outside. Most files do not mark it, or mark it wrongly, so the geometry decides. */
function outerLoops(
  file: Part21File,
  surface: Surface,
  isSame: boolean,
  loops: readonly Loop[],
): Set<number> {
  const all = new Set(loops.keys());
  const withEdges = [...all].filter((n) => loops[n]!.edges.length > 0);
  const isRound = surface.kind !== 'plane' && surface.kind !== 'other';
  if (isRound && withEdges.length < all.size) {
    // A closed surface, or a tip: a vertex bounds it, and what winds round it.
    const vertices = [...all].filter((n) => loops[n]!.edges.length === 0);
    return new Set([...vertices, ...withEdges.filter((n) => windsAround(surface, loops[n]!.points))]);
  }
  if (withEdges.length === 1 && (surface.kind === 'sphere' || surface.kind === 'torus')) {
    // A whole sphere or ring needs no bound: its one loop may go round a hole, and then turns the other way.
    const { edges, points } = loops[withEdges[0]!]!;
    const isPlain = new Set(edges).size === edges.length && !windsAround(surface, points);
    const turn = unrolledArea(surface, points) * (isSame ? 1 : -1);
    return isPlain && turn < 0 ? new Set() : all;
  }
  if (withEdges.length < 2) return all;
  if (surface.kind === 'other') {
    const marked = withEdges.filter((n) => file.typeOf(loops[n]!.bound) === 'FACE_OUTER_BOUND');
    return marked.length === 1 ? new Set(marked) : all;
  }
  if (surface.kind !== 'plane') {
    const around = withEdges.filter((n) => {
      const { edges, points } = loops[n]!;
      return new Set(edges).size < edges.length || windsAround(surface, points);
    });
    if (around.length > 0) return new Set(around);
  }
  const areas = withEdges.map((n) =>
    surface.kind === 'plane'
      ? length(areaVector(loops[n]!.points))
      : Math.abs(unrolledArea(surface, loops[n]!.points)),
  );
  return new Set([withEdges[areas.indexOf(Math.max(...areas))]!]);
}
