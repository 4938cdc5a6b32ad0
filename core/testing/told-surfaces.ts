import { SourcePart } from '#core/geometry/bodies/source-part';
import { readTopology } from '#core/geometry/fill/read-topology';
import { axisOf, originOf, type Surface } from '#core/geometry/fill/surfaces';
import type { Face, Topology } from '#core/geometry/fill/topology';
import { lostFaces } from '#core/geometry/reduce/left';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { wholeStructure } from '#core/geometry/whole/whole';
import { type Matrix4, transformPoint, turnDirection, type Vector3 } from '#core/product/matrix';
import { dot, offset, scale } from '#core/product/vector';
import { scanContent } from '#core/project/scan/content';
import { resolveProject } from '#core/project/scan/project';

/** Digits by which places are told apart, as parts of the size of what they are in. */
const STEPS = 1e5;

/** What a plane, or the axis of a round face, is known by as it stands: wherever it is written from. */
function keyOf(surface: Surface, placement: Matrix4, size: number): string | undefined {
  if (surface.kind === 'other' || surface.kind === 'sphere') return undefined;
  const isPlane = surface.kind === 'plane';
  const at = transformPoint(placement, isPlane ? surface.at : originOf(surface.placement));
  const direction = upwards(turnDirection(placement, isPlane ? surface.normal : axisOf(surface.placement)));
  const along = dot(at, direction);
  const told = isPlane ? [along] : offset(at, direction, -along);
  const round = (value: number) => Math.round((value / size) * STEPS) + 0;
  return [
    isPlane ? 'plane' : 'axis',
    ...direction.map((value) => value.toFixed(4).replace('-0.0000', '0.0000')),
    ...told.map(round),
  ].join(' ');
}

/** The same direction, whichever way it was written round. */
function upwards(direction: Vector3): Vector3 {
  const [first] = direction.filter((value) => Math.abs(value) > 1e-6);
  return (first ?? 0) < 0 ? scale(direction, -1) : direction;
}

/**
 * Planes, and axes of round faces, of an original that nobody reaches, and that no face which is reached has. A face beside one that is reached is
 * told by the edge between them.
 */
export function innerSurfaces(
  { whole, reach, reachLeft, openings, filled }: ReducedWhole,
  size: number,
): Set<string> {
  const [inner, outer] = [new Set<string>(), new Set<string>()];
  for (const [n, { shape, placement }] of whole.bodies.entries()) {
    const { file, body } = whole.shapes[shape]!;
    const topology = openings.get(file)?.bodies.get(body.id)?.topology;
    if (!topology) continue;
    const isLost = lostFaces(filled.get(file)?.bodies.get(body.id));
    const isOutside = (face: number) =>
      reach.reached.faces[n]![face] === 1 && reachLeft.bodies[n]!.class === 'reached' && !isLost(face);
    for (const [face, { surface }] of topology.faces.entries()) {
      const key = keyOf(surface, placement, size);
      if (key === undefined) continue;
      const isBeside = facesBeside(topology, topology.faces[face]!).some(isOutside);
      (isOutside(face) || (isBeside && !isLost(face)) ? outer : inner).add(key);
    }
  }
  return new Set([...inner].filter((key) => !outer.has(key)));
}

function facesBeside({ uses }: Topology, { loops }: Face): number[] {
  return loops.flatMap(({ edges }) => edges.flatMap((edge) => uses.get(edge)!.map(({ face }) => face)));
}

/** Planes and axes that a STEP file tells, as it places them. */
export function surfacesIn(step: Uint8Array, size: number): Set<string> {
  const scan = scanContent('r.stp', step);
  const project = resolveProject([{ path: 'r.stp', bytes: step.length, sha256: '', scan }]);
  const source = new SourcePart('r.stp', step);
  const whole = wholeStructure(project, 'r.stp');
  const topologies = new Map<number, Topology>();
  const told = new Set<string>();
  for (const { shape, placement } of whole.bodies) {
    const { body } = whole.shapes[shape]!;
    const topology = topologies.get(body.id) ?? readTopology(source.file, body, 1);
    topologies.set(body.id, topology);
    for (const { surface } of topology.faces) {
      const key = keyOf(surface, placement, size);
      if (key !== undefined) told.add(key);
    }
  }
  return told;
}
