import type { SourcePart } from '#core/geometry/bodies/source-part';
import type { ReachOfWhole } from '#core/geometry/reach/classes';
import type { BodyMesh } from '#core/geometry/shape/body';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { faceCount, finestMesh, triangleCount } from '#core/geometry/shape/solid-mesh';
import { meshOfBody, type Whole } from '#core/geometry/whole/whole';
import type { PlanContext } from '#core/planning';
import type { Vector3 } from '#core/product/matrix';
import { bodiesLeft, type Decision } from './decide';
import { type PlacedMesh, pointsOn } from './deviation';
import type { FilledBody, FilledPart } from './filled-parts';

/** What was made coarser in the text of a body. */
export interface CoarserText {
  /** Rounds and bevels that became sharp edges, and how far these lie off them at most, mm. */
  edges: number;
  off: number;
  /** Slots, notches and grooves that were filled. */
  slots: number;
  /** Faces that became one with others. */
  joined: number;
}

/** A body of the whole that is no longer as its file has it: edges are sharp, rings of teeth were filled, an end was cut off, it lies in an envelope. */
export interface RemadeBody {
  source: SourcePart;
  coarser: CoarserText | null;
  /** How deep the teeth were that were filled, mm; 0 where none were. */
  rounded: number;
  /** It is an envelope around the body. */
  isEnvelope: boolean;
  isCut: boolean;
  /** What is left, one mesh for all pieces, in the coordinates of the body. */
  mesh: BodyMesh;
  geometry: GeometryOfBody;
  /** mm³ */
  volume: number;
}

/** What stays of a whole. */
export interface Left {
  whole: Whole;
  decision: Decision;
  filled: ReadonlyMap<string, FilledPart>;
  /** By position in the whole. */
  remade: ReadonlyMap<number, RemadeBody>;
}

/** A body of the whole as it is after filling; undefined where it was not filled. */
export type FilledOf = (body: number) => FilledBody | undefined;

export function filledBodies({ whole, filled }: Pick<Left, 'whole' | 'filled'>): FilledOf {
  return (n) => {
    const { file, body } = whole.shapes[whole.bodies[n]!.shape]!;
    return filled.get(file)?.bodies.get(body.id);
  };
}

/** The mesh of a body as it is now; undefined where it is left out. */
export function meshLeft(left: Left): (body: number) => GeometryOfBody | undefined {
  const { whole, decision, remade } = left;
  const filledOf = filledBodies(left);
  return (n) =>
    decision.bodies[n] === null
      ? (remade.get(n)?.geometry ?? filledOf(n)?.geometry ?? meshOfBody(whole, n))
      : undefined;
}

/** The meshes of what is left where they stand, as fine as they are. */
export function meshesLeft(left: Left): PlacedMesh[] {
  const meshOf = meshLeft(left);
  return bodiesLeft(left.decision).flatMap((n) => {
    const mesh = meshOf(n);
    return mesh ? [{ ...finestMesh(mesh), placement: left.whole.bodies[n]!.placement }] : [];
  });
}

/** How many bodies, faces and triangles are left. */
export function amountsLeft(left: Left): { bodies: number; faces: number; triangles: number } {
  const own = bodiesLeft(left.decision);
  const meshes = own.map(meshLeft(left));
  return {
    bodies: own.reduce((sum, n) => sum + (left.remade.get(n)?.source.bodies.length ?? 1), 0),
    faces: meshes.reduce((sum, mesh) => sum + faceCount(mesh), 0),
    triangles: meshes.reduce((sum, mesh) => sum + triangleCount(mesh), 0),
  };
}

/** Whether a face of a body, by position, has gone with an opening that was filled. */
export function lostFaces(filled: FilledBody | undefined): (face: number) => boolean {
  const lost = new Set(filled?.openings.flatMap(({ faces }) => faces));
  return (face) => lost.has(face);
}

/** Points on faces of a body that are reached from outside, where it stands. @param most on each face */
export function pointsReached(
  whole: Whole,
  { reached }: ReachOfWhole,
  n: number,
  most: number,
  isWanted: (face: number) => boolean,
): Vector3[] {
  const mesh = meshOfBody(whole, n);
  if (!mesh) return [];
  const placed = { ...finestMesh(mesh), placement: whole.bodies[n]!.placement };
  return Array.from(reached.faces[n]!).flatMap((isReached, face) =>
    isReached === 1 && isWanted(face) ? pointsOn(placed, mesh.faceGroups, face, most) : [],
  );
}

/** Volume of each body before filling, as the kernel measured it, mm³; 0 where it could not. */
export async function volumesOf(
  { measured }: Pick<PlanContext, 'measured'>,
  whole: Whole,
): Promise<number[]> {
  const known = new Map<string, Awaited<ReturnType<PlanContext['measured']>>>();
  for (const { file } of whole.shapes) if (!known.has(file)) known.set(file, await measured(file));
  const volumes = whole.shapes.map(({ file, body }) => known.get(file)!.get(body.id)?.facts?.volume ?? 0);
  return whole.bodies.map(({ shape }) => volumes[shape]!);
}

/** Volume of each body that is left, as it is now, mm³; 0 where the kernel could not measure it. */
export async function volumesLeft(context: Pick<PlanContext, 'measured'>, left: Left): Promise<number[]> {
  const before = await volumesOf(context, left.whole);
  const filledOf = filledBodies(left);
  return bodiesLeft(left.decision).map(
    (n) => left.remade.get(n)?.volume ?? filledOf(n)?.facts.volume ?? before[n]!,
  );
}
