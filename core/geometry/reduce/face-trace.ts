import { axisOf } from '#core/geometry/fill/surfaces';
import { type Face, middleOfPoints, type Topology } from '#core/geometry/fill/topology';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { areaOf, centreOf, cornersOf } from '#core/geometry/shape/triangles';
import { diagonalOf } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { dot, offset, scale } from '#core/product/vector';
import type { FaceTrace } from './choices';

/** A face is taken for one of another version from this likeness on; with less somebody is asked. */
export const SURE = 0.6;

/** What a face can be found again by. */
export function traceOf({ faces }: Topology, position: number, mesh: GeometryOfBody): FaceTrace {
  const face = faces[position]!;
  const { surface } = face;
  const { centre, area } = middleAndArea(mesh, position);
  const direction = directionOf(face);
  return {
    surface: surface.kind,
    direction: [...direction] as FaceTrace['direction'],
    centre: [
      ...(area > 0 ? centre : middleOfPoints(face.loops[0]?.points ?? [[0, 0, 0]])),
    ] as FaceTrace['centre'],
    radius: 'radius' in surface ? surface.radius : 0,
    area,
    box: [...mesh.box],
  };
}

function directionOf({ surface, isSame }: Face): Vector3 {
  if (surface.kind === 'plane') return scale(surface.normal, isSame ? 1 : -1);
  return surface.kind === 'other' ? [0, 0, 0] : axisOf(surface.placement);
}

function middleAndArea(mesh: GeometryOfBody, face: number) {
  const [from, count] = [mesh.faceGroups[2 * face] ?? 0, mesh.faceGroups[2 * face + 1] ?? 0];
  const finest = finestMesh(mesh);
  let area = 0;
  let sum: Vector3 = [0, 0, 0];
  for (let n = from / 3; n < (from + count) / 3; n++) {
    const triangle = cornersOf(finest, n);
    const own = areaOf(triangle);
    area += own;
    sum = offset(sum, centreOf(triangle), own);
  }
  return { centre: scale(sum, area > 0 ? 1 / area : 0), area };
}

/**
 * How alike two faces are, from 0 to 1: kind of surface, direction, radius, area, and where the face lies on its body: absolutely, or
 * measured from either end of the body's box, whichever fits best on each axis, so that a body that has grown keeps its faces.
 */
export function likeness(a: FaceTrace, b: FaceTrace): number {
  if (a.surface !== b.surface) return 0;
  const isRound = a.surface !== 'plane';
  const along = dot(a.direction, b.direction);
  const turned = a.surface === 'other' ? 1 : Math.max(0, isRound ? Math.abs(along) : along);
  if (turned < 0.9) return 0;
  const size = diagonalOf(a.box) || 1;
  let off = 0;
  for (let axis = 0; axis < 3; axis++) {
    const places = [a.centre[axis]! - b.centre[axis]!];
    for (const end of [axis, axis + 3])
      places.push(a.centre[axis]! - a.box[end]! - (b.centre[axis]! - b.box[end]!));
    off += Math.min(...places.map((place) => (place / size) ** 2));
  }
  return (
    turned * Math.exp(-8 * Math.sqrt(off)) * ratio(a.radius, b.radius) * Math.sqrt(ratio(a.area, b.area))
  );
}

function ratio(a: number, b: number): number {
  const [less, more] = a < b ? [a, b] : [b, a];
  return more < 1e-9 ? 1 : less / more;
}

/** The face of a body that is most like a trace, and how like it is; the next best tells whether it is the only one. */
export function findAgain(
  trace: FaceTrace,
  topology: Topology,
  mesh: GeometryOfBody,
): { face: number; likeness: number } | null {
  let best: { face: number; likeness: number } | null = null;
  for (const [position, { id }] of topology.faces.entries()) {
    const alike = likeness(trace, traceOf(topology, position, mesh));
    if (alike > (best?.likeness ?? 0)) best = { face: id, likeness: alike };
  }
  return best;
}
