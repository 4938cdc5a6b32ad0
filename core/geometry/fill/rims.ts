import type { Part21File } from '#core/files/part21/file';
import { isTrue, numberOf, referenceOf } from '#core/files/part21/parameters';
import { append } from '#core/multimap';
import type { Vector3 } from '#core/product/matrix';
import { axisPlacement } from '#core/product/placements';
import { distance, distanceFromLine, dot, subtract, unit } from '#core/product/vector';
import { areaVector, type Round, unrolledArea, windsAround } from './loop-area';
import { areParallel, axisOf, isSameSurface, originOf } from './surfaces';
import type { Closing, Face, Loop, OrientedEdge, Topology } from './topology';

/**
 * Adds rims that are no bounds of their own to the faces of a solid: those across the seam of a closed surface, and those across an edge
 * between two faces of one surface, as systems write them that split round faces in halves.
 */
export function addRims(file: Part21File, topology: Topology): void {
  for (const face of topology.faces) face.loops.push(...seamRims(file, face, topology.points));
  for (const [n, face] of topology.faces.entries())
    for (const rim of splitRims(file, topology, n)) face.loops.push(rim);
}

function pointsAlong(edges: readonly OrientedEdge[], known: Topology['points']): Vector3[] {
  return edges.flatMap(({ edge, isForward }) => {
    const along = known.get(edge)!;
    return (isForward ? along : [...along].reverse()).slice(0, -1);
  });
}

/** A number for a rim that no bound has. */
function freeNumber({ id, loops }: Face, more: readonly Loop[]): number {
  return -(1000 * id + loops.filter(({ bound }) => bound < 0).length + more.length + 1);
}

/** The curve of an edge, and whether the loop goes along it in its own direction. */
function curveOf(file: Part21File, { edge, isForward }: OrientedEdge): { curve: number; isSame: boolean } {
  const [, , , curve, sense] = file.parameters(edge)!;
  return { curve: referenceOf(curve)!, isSame: isTrue(sense) === isForward };
}

/**
 * Rims that cross the seam of a closed surface. The one loop of such a face goes along the seam, halfway round the rim, on along the seam, and
 * comes back the other way: without the seam two stretches are left that close to the rim, and do not wind round the surface.
 */
function seamRims(file: Part21File, face: Face, known: Topology['points']): Loop[] {
  const { surface, loops } = face;
  if (surface.kind === 'plane' || surface.kind === 'other') return [];
  const rims: Loop[] = [];
  for (const { edges, oriented = [], path } of loops) {
    if (path === undefined || new Set(edges).size === edges.length) continue;
    const times = new Map<number, number>();
    for (const edge of edges) times.set(edge, (times.get(edge) ?? 0) + 1);
    const open = stretchesBetween(oriented, ({ edge }) => times.get(edge) === 2).filter(
      ({ edges: own }) => own[0]!.from !== own.at(-1)!.to,
    );
    for (const [n, one] of open.entries())
      for (const other of open.slice(n + 1)) {
        if (!areOpposite(one.edges, other.edges)) continue;
        const points = pointsAlong([...one.edges, ...other.edges], known);
        if (windsAround(surface, points)) continue;
        rims.push({
          bound: freeNumber(face, rims),
          edges: [...one.edges, ...other.edges].map(({ edge }) => edge),
          points,
          isInner: true,
          closing: closingOf(file, { path, ...one }, { path, ...other }),
        });
      }
  }
  return rims;
}

/** Stretches of a loop between edges of some kind, each with those before and behind it. */
interface StretchBetween {
  edges: OrientedEdge[];
  before: OrientedEdge;
  behind: OrientedEdge;
}

function stretchesBetween(
  oriented: readonly OrientedEdge[],
  isBetween: (edge: OrientedEdge) => boolean,
): StretchBetween[] {
  const start = oriented.findIndex(isBetween);
  if (start < 0) return [];
  const turned = [...oriented.slice(start), ...oriented.slice(0, start)];
  const stretches: StretchBetween[] = [];
  for (const [n, one] of turned.entries()) {
    if (isBetween(one)) continue;
    const before = turned[n - 1]!;
    if (isBetween(before)) stretches.push({ edges: [], before, behind: turned[0]! });
    const stretch = stretches.at(-1)!;
    stretch.edges.push(one);
    stretch.behind = turned[(n + 1) % turned.length]!;
  }
  return stretches;
}

/** Whether one stretch leads to where the other begins, and back. */
function areOpposite(a: readonly OrientedEdge[], b: readonly OrientedEdge[]): boolean {
  return a[0]!.from === b.at(-1)!.to && a.at(-1)!.to === b[0]!.from;
}

function closingOf(
  file: Part21File,
  one: StretchBetween & { path: number },
  other: StretchBetween & { path: number },
): Closing {
  const [a, b] = [one, other].map(({ path, edges }) => ({ path, edges: edges.map(({ id }) => id) }));
  return {
    stretches: [a!, b!],
    from: one.edges[0]!.from,
    to: one.edges.at(-1)!.to,
    ...curveOf(file, one.before),
  };
}

/**
 * Rims across an edge between a face and another one of the same surface. Both outer bounds go along that edge, round their part of the rim,
 * and on along the edge; together the parts go round a hole.
 */
function splitRims(file: Part21File, topology: Topology, n: number): Loop[] {
  const face = topology.faces[n]!;
  const rims: Loop[] = [];
  for (const { oriented = [], path, isReversed } of face.loops) {
    if (path === undefined) continue;
    const across = new Map<number, number[]>();
    for (const { edge } of oriented)
      for (const { face: other } of topology.uses.get(edge)!) if (other > n) append(across, other, edge);
    for (const [m, edges] of across) {
      const shared = new Set(edges);
      const beside = topology.faces[m]!;
      if (!isSameSurface(face.surface, beside.surface) || face.isSame !== beside.isSame) continue;
      const own = stretchesBetween(oriented, ({ edge }) => shared.has(edge));
      for (const loop of beside.loops) {
        if (loop.path === undefined || loop.isReversed !== isReversed) continue;
        for (const other of stretchesBetween(loop.oriented ?? [], ({ edge }) => shared.has(edge)))
          for (const one of own) {
            if (!areOpposite(one.edges, other.edges) || !liesOnCurve(file, topology, one)) continue;
            const points = pointsAlong([...one.edges, ...other.edges], topology.points);
            if (isReversed) points.reverse();
            if (!isHoleIn(face, points)) continue;
            rims.push({
              bound: freeNumber(face, rims),
              edges: [...one.edges, ...other.edges].map(({ edge }) => edge),
              points,
              isInner: true,
              hosts: [n, m],
              closing: closingOf(file, { path, ...one }, { path: loop.path, ...other }),
            });
          }
      }
    }
  }
  return rims;
}

/** Whether a loop goes round a hole in a face: the other way round than its outer bound. */
function isHoleIn({ surface, isSame }: Face, points: readonly Vector3[]): boolean {
  const side = isSame ? 1 : -1;
  if (surface.kind === 'plane') return side * dot(areaVector(points), surface.normal) < 0;
  const round = surface as Round;
  return !windsAround(round, points) && side * unrolledArea(round, points) < 0;
}

/** How far ends may lie off a curve, of the length of what is there, mm. */
const OFF = 1e-5;

/** Whether the edge before a stretch and the one behind it lie on one curve, so that this closes the bound. */
function liesOnCurve(file: Part21File, { points }: Topology, { before, behind }: StretchBetween): boolean {
  const [one, other] = [before, behind].map((edge) => basicCurve(file, curveOf(file, edge).curve));
  if (one === other) return true;
  const [from, to] = [points.get(before.edge)!, points.get(behind.edge)!];
  const tolerance = OFF * (1 + distance(from[0]!, to[0]!));
  const type = file.typeOf(one!);
  if (type !== file.typeOf(other!)) return false;
  if (type === 'LINE') {
    const direction = unit(subtract(from.at(-1)!, from[0]!));
    return to.every((point) => distanceFromLine(point, from[0]!, direction) < tolerance);
  }
  if (type !== 'CIRCLE') return false;
  const [a, b] = [one!, other!].map((id) => {
    const parameters = file.parameters(id)!;
    return { placement: axisPlacement(file, referenceOf(parameters[1]), 1), radius: numberOf(parameters[2]) };
  });
  return (
    !!a?.placement &&
    !!b?.placement &&
    Math.abs((a.radius ?? 0) - (b.radius ?? 1)) < tolerance &&
    distance(originOf(a.placement), originOf(b.placement)) < tolerance &&
    areParallel(axisOf(a.placement), axisOf(b.placement))
  );
}

/** The curve in space that an edge lies on, without what says where it is on its faces. */
function basicCurve(file: Part21File, curve: number): number {
  return /^(SURFACE|SEAM|INTERSECTION)_CURVE$/.test(file.typeOf(curve) ?? '')
    ? (file.referenceOf(curve, 1) ?? curve)
    : curve;
}
