import { Part21File } from '#core/files/part21/file';
import { geometryOf } from '#core/geometry/bodies/measure';
import { readTopology } from '#core/geometry/fill/read-topology';
import type { Topology } from '#core/geometry/fill/topology';
import { leak, leaksIn } from '#core/geometry/leaks/leaks';
import { COARSE } from '#core/geometry/reach/grid';
import { ReachField } from '#core/geometry/reach/reached';
import type { FaceTrace, KeptFace } from '#core/geometry/reduce/choices';
import { bodiesLeft } from '#core/geometry/reduce/decide';
import { deviationOf } from '#core/geometry/reduce/deviation';
import { traceOf } from '#core/geometry/reduce/face-trace';
import { meshesLeft, volumesOf } from '#core/geometry/reduce/left';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { removedFrom } from '#core/geometry/reduce/removed';
import { amountsBefore, boxesOf } from '#core/geometry/reduce/report';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { finestMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { centreOf, cornersOf } from '#core/geometry/shape/triangles';
import { sectionsOf } from '#core/geometry/solids/sections';
import { isClosed } from '#core/geometry/solids/touching';
import { boxOfBodies } from '#core/geometry/whole/whole';
import type { PlanContext } from '#core/planning';
import { type Box, boxOfPositions, isBoxIn, middleOf } from '#core/product/box';
import { shellsOf } from '#core/product/faces';
import { IDENTITY, type Matrix4, transformPoint, turnDirection, type Vector3 } from '#core/product/matrix';
import { readStructure } from '#core/product/structure';
import type { SealChoices } from './choices';
import { outsidePointsLeft } from './outside-points';
import { keptInSolid, lighterWithin, namesIn, namesOf, type SealReport } from './proof';
import type { Sealed, SealedSolid } from './sealed-solid';

/** A solid that was written, and what it came of. */
interface SolidToProve {
  reduced: ReducedWhole;
  sealed: Sealed;
  main: SealedSolid;
  /** The STEP file. */
  bytes: Uint8Array;
  /** What the file may call itself. */
  name: string;
  choices: Pick<SealChoices, 'keepFaces' | 'within'>;
}

/** Gathers what stands for it that a sealed solid is one: from the file itself, read back, and from its mesh. */
export async function proveSolid(
  context: PlanContext,
  { reduced, sealed, main, bytes, name, choices }: SolidToProve,
): Promise<SealReport> {
  const { whole, gap } = reduced;
  const file = Part21File.read(bytes);
  const bodies = readStructure(file).products.flatMap((product) => product.bodies);
  const shells = bodies.map((body) => shellsOf(file, body));
  const isExact = sealed.way === 'exact';
  const topologies = isExact ? bodies.map((body) => readTopology(file, body, 1)) : [];
  const geometry = await geometryOf(main.mesh);
  const triangles = main.mesh.triangles.length / 3;
  const box = boxOfPositions(main.mesh.positions);
  const outside = async () => {
    const standing = [{ mesh: geometry, placement: IDENTITY }];
    const field = await ReachField.roll(standing, box, gap, context.progress, COARSE);
    return (point: Vector3) => field.isOutside(point);
  };
  const faces = isExact
    ? sum(topologies.map((topology) => topology.faces.length))
    : file.idsOfType('FACE_SURFACE').length;
  const boxBefore = boxesOf(reduced).after;
  const names = namesIn(file, namesOf(whole), name);
  const kept = choices.keepFaces.map((face) => ({ face, places: placesOf(reduced, face) }));
  return {
    way: sealed.way,
    within: isExact ? null : (sealed.standOff ?? choices.within),
    lighterWithin: sealed.way === 'facets' ? lighterWithin(faces, choices.within) : null,
    before: amountsBefore(context.project, whole),
    after: {
      occurrences: 1,
      distinctParts: 1,
      bodies: bodies.length,
      faces,
      triangles,
      bytes: bytes.length,
    },
    box: { before: boxBefore, after: box },
    volume: { before: sum(await volumesOf(context, whole)), after: main.volume },
    solids: bodies.length,
    outerShells: shells.length,
    innerShells: sum(shells.map((own) => own.length - 1)),
    // Of an exact one the text says it: reading it refuses an edge that has not two faces.
    isClosed: isExact ? topologies.length === bodies.length : isClosed(main.closed),
    isValid: main.isValid,
    hollows: sealed.hollows,
    pins: sealed.pins,
    kept: isExact
      ? keptInSolid(
          kept.map(({ face, places }) => ({
            face,
            places: places.map(({ position, topology, mesh, placement }) =>
              placedTrace(traceOf(topology, position, mesh), placement, boxBefore),
            ),
          })),
          topologies[0]!,
          geometry,
        )
      : kept.map(({ face: { file: path, face, name: called }, places }) => ({
          file: path,
          face,
          name: called,
          identical: false,
          off: deviationOf(places.flatMap(cornersOfFace), [{ ...main.closed, placement: IDENTITY }]).max,
        })),
    deviation:
      sealed.way === 'envelope'
        ? deviationOf(placesOn(main.closed), meshesLeft(reduced))
        : deviationOf(outsidePointsLeft(reduced), [{ ...main.closed, placement: IDENTITY }]),
    sections: await sectionsOf(main.closed, middleOf(box), outside),
    names,
    leaks: [
      ...(names.length > 0 ? [leak('names', names.length, names)] : []),
      ...leaksIn(file, name).filter(({ kind }) => kind !== 'spare instances'),
    ],
    removed: removedFrom(reduced),
    loose: sealed.solids.slice(1).map(({ mesh, volume }) => ({ names: namesWithin(reduced, mesh), volume })),
    refused: sealed.refused,
  };
}

/** Corners and middles of a solid's triangles: of an envelope it counts how far it stands off, not how deep a groove under it is. */
function placesOn(mesh: SolidMesh): Vector3[] {
  return Array.from({ length: mesh.triangles.length / 3 }, (_, n) => {
    const corners = cornersOf(mesh, n);
    return [...corners, centreOf(corners)];
  }).flat();
}

function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0);
}

/** Names of the components whose boxes lie within that of a solid. */
export function namesWithin(
  { whole, decision }: Pick<ReducedWhole, 'whole' | 'decision'>,
  { positions }: Pick<SolidMesh, 'positions'>,
): string[] {
  const box = boxOfPositions(positions);
  return whole.occurrences.flatMap(({ name, bodies }) => {
    const left = bodies.filter((n) => decision.bodies[n] === null);
    if (left.length === 0) return [];
    const own = boxOfBodies(whole, left);
    return isBoxIn(own, box, 0.5) ? [name] : [];
  });
}

/** A face at one of its places in the whole. */
interface FacePlace {
  topology: Topology;
  mesh: GeometryOfBody;
  /** Of the face in its body. */
  position: number;
  placement: Matrix4;
}

function placesOf(
  { whole, openings, decision }: ReducedWhole,
  { file, face }: Pick<KeptFace, 'file' | 'face'>,
): FacePlace[] {
  const part = openings.get(file);
  return bodiesLeft(decision).flatMap((n) => {
    const { shape, placement } = whole.bodies[n]!;
    const { body, file: own, mesh } = whole.shapes[shape]!;
    const known = own === file ? part?.bodies.get(body.id) : undefined;
    const position = known?.topology.faces.findIndex(({ id }) => id === face) ?? -1;
    return !known || !mesh || position < 0 ? [] : [{ topology: known.topology, mesh, position, placement }];
  });
}

/** The corners of a face's triangles: they lie on its surface exactly. */
function cornersOfFace({ mesh, position, placement }: FacePlace): Vector3[] {
  const { positions, triangles } = finestMesh(mesh);
  const [from, count] = [mesh.faceGroups[2 * position]!, mesh.faceGroups[2 * position + 1]!];
  return [...new Set(triangles.subarray(from, from + count))].map((n) =>
    transformPoint(placement, [positions[3 * n]!, positions[3 * n + 1]!, positions[3 * n + 2]!]),
  );
}

function placedTrace(trace: FaceTrace, placement: Matrix4, box: Box): FaceTrace {
  return {
    ...trace,
    direction: [...turnDirection(placement, trace.direction)] as FaceTrace['direction'],
    centre: [...transformPoint(placement, trace.centre)] as FaceTrace['centre'],
    box: [...box],
  };
}
