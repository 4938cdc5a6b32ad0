import type { Opening } from '#core/geometry/fill/openings';
import { areParallel, axisOf, originOf } from '#core/geometry/fill/surfaces';
import type { Face, Topology } from '#core/geometry/fill/topology';
import type { ReachOfWhole } from '#core/geometry/reach/classes';
import type { Whole } from '#core/geometry/whole/whole';
import { diagonalOf } from '#core/product/box';
import { type Matrix4, transformPoint, turnDirection, type Vector3 } from '#core/product/matrix';
import { distance, dot, offset, subtract } from '#core/product/vector';
import type { PartWithOpenings } from './filled-parts';
import { type HolePattern, holePattern, inMillimetres } from './hole-pattern';

/** A face by which the whole is probably mounted. */
export interface MountingFace {
  file: string;
  /** Number of the face in its file. */
  face: number;
  /** Position among the faces of its body. */
  position: number;
  /** Number of the body. */
  body: number;
  /** What it is, in words. */
  name: string;
  kind: 'hole pattern' | 'flat end' | 'shaft end';
}

/** How far holes may lie off their circle, and planes off the end of the box, as part of the whole's diagonal. */
const OFF = 1e-3;
/** A flat end is proposed when it is at least this part of the box's side. */
const LEAST_FLAT = 0.15;
const MOST = 12;

/**
 * Proposes faces that others mount the whole by: flat faces with patterns of equal holes, flat faces at the ends of the box, ends of shafts. Only
 * what is reached from outside.
 */
export function proposeMounting(
  whole: Whole,
  reach: ReachOfWhole,
  partOf: (file: string) => PartWithOpenings | undefined,
): MountingFace[] {
  const diagonal = diagonalOf(whole.box);
  const found = new Map<string, MountingFace & { rank: number }>();
  for (const [n, { shape, placement }] of whole.bodies.entries()) {
    const { file, body } = whole.shapes[shape]!;
    const part = partOf(file)?.bodies.get(body.id);
    if (!part) continue;
    const patterns = patternsIn(part, OFF * diagonal);
    for (const [position, face] of part.topology.faces.entries()) {
      if (reach.reached.faces[n]![position] !== 1) continue;
      const key = `${file} ${face.id}`;
      const ends = endsOf(face, placement, whole);
      const pattern = patterns.get(position);
      const own = { file, face: face.id, position, body: body.id };
      const offer = (rank: number, kind: MountingFace['kind'], name: string) => {
        if ((found.get(key)?.rank ?? 0) < rank) found.set(key, { ...own, kind, name, rank });
      };
      if (pattern) offer((ends.isAtEnd ? 4 : 2) + pattern.extent / diagonal, 'hole pattern', pattern.words);
      else if (ends.isAtEnd && ends.size > LEAST_FLAT * diagonal)
        offer(1 + ends.size / diagonal, 'flat end', `flat face, ${inMillimetres(ends.size)} mm across`);
      const shaft = shaftEnd(face, placement, whole, diagonal);
      if (shaft !== null) offer(1 + shaft / diagonal, 'shaft end', `shaft ⌀ ${inMillimetres(shaft)}`);
    }
  }
  return [...found.values()]
    .sort((a, b) => b.rank - a.rank || a.face - b.face)
    .slice(0, MOST)
    .map(({ rank: _, ...face }) => face);
}

/** Flat faces, by position, with the largest pattern of equal holes in each. */
function patternsIn(
  { topology, openings }: { topology: Topology; openings: readonly Opening[] },
  tolerance: number,
): Map<number, HolePattern> {
  const holes = new Map<
    string,
    { position: number; diameter: number; normal: Vector3; centres: Vector3[] }
  >();
  for (const { kind, rims, faces, diameters } of openings) {
    if (kind !== 'hole' && kind !== 'counterbore') continue;
    const round = faces.map((n) => topology.faces[n]!.surface).find(({ kind: one }) => one === 'cylinder');
    if (round?.kind !== 'cylinder') continue;
    for (const { face } of rims) {
      const { surface } = topology.faces[face]!;
      if (surface.kind !== 'plane' || !areParallel(surface.normal, axisOf(round.placement))) continue;
      const { normal } = surface;
      const origin = originOf(round.placement);
      const foot = offset(origin, normal, -dot(subtract(origin, surface.at), normal));
      const diameter = diameters.at(-1)!;
      const key = `${face} ${diameter.toFixed(3)}`;
      const group = holes.get(key) ?? { position: face, diameter, normal, centres: [] };
      group.centres.push(foot);
      holes.set(key, group);
    }
  }
  const patterns = new Map<number, HolePattern>();
  for (const { position, diameter, normal, centres } of holes.values()) {
    const pattern = holePattern(centres, diameter, normal, tolerance);
    if (!pattern) continue;
    const before = patterns.get(position);
    if (!before || before.count < pattern.count) patterns.set(position, pattern);
  }
  return patterns;
}

/** Whether a flat face lies at an end of the whole's box, and how large it is. */
function endsOf(face: Face, placement: Matrix4, whole: Whole): { isAtEnd: boolean; size: number } {
  const { surface, loops } = face;
  if (surface.kind !== 'plane') return { isAtEnd: false, size: 0 };
  const normal = turnDirection(placement, surface.normal);
  const at = transformPoint(placement, surface.at);
  const tolerance = OFF * diagonalOf(whole.box);
  const isAtEnd = [0, 1, 2].some((axis) => {
    const along = axis as 0 | 1 | 2;
    if (Math.abs(normal[along]) < 1 - 1e-6) return false;
    return (
      Math.abs(at[along] - whole.box[along]) < tolerance ||
      Math.abs(at[along] - whole.box[(along + 3) as 3 | 4 | 5]) < tolerance
    );
  });
  const points = loops.flatMap((loop) => (loop.isInner ? [] : loop.points));
  let size = 0;
  for (const point of points) size = Math.max(size, distance(point, points[0]!));
  return { isAtEnd, size };
}

/** Diameter of a shaft that ends near an end of the whole's box; null where it is none. */
function shaftEnd(
  { surface, isSame, loops }: Face,
  placement: Matrix4,
  whole: Whole,
  diagonal: number,
): number | null {
  if (surface.kind !== 'cylinder' || !isSame) return null;
  const axis = turnDirection(placement, axisOf(surface.placement));
  const along = [0, 1, 2].find((n) => Math.abs(axis[n as 0]) > 1 - 1e-6) as 0 | 1 | 2 | undefined;
  if (along === undefined) return null;
  const places = loops.flatMap(({ points }) =>
    points.map((point) => transformPoint(placement, point)[along]),
  );
  const reach = Math.max(...places) - Math.min(...places);
  const isAtEnd = places.some(
    (place) =>
      Math.abs(place - whole.box[along]) < 10 * OFF * diagonal ||
      Math.abs(place - whole.box[(along + 3) as 3 | 4 | 5]) < 10 * OFF * diagonal,
  );
  return isAtEnd && reach > surface.radius ? 2 * surface.radius : null;
}
