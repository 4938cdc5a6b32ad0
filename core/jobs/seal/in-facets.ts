import { meshVolume } from '#core/geometry/shape/doubt';
import { displayMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { envelopePieces } from '#core/geometry/solids/envelope';
import { type MeshUnion, uniteMeshes } from '#core/geometry/solids/mesh-union';
import { simplifiedSolid } from '#core/geometry/solids/simplified-solid';
import { beadsAlong, isClosed, tidiedMesh, touchingEdges } from '#core/geometry/solids/touching';
import type { PlanContext } from '#core/planning';
import { findPins } from './pins';
import type { Sealed, ToSeal } from './sealed-solid';

/** How far meshes are grown, of their furthest coordinate: four times what their numbers are rounded by. */
const GROWN = 2 ** -21;
/** A chord is overstepped by as much when a body is meshed. */
export const OVERSTEPPED = 2.2;
/** Facets may turn by so much from one to the next, radians: what they lie off is bound by the chord. */
const ANGLE = 1.1;
/** Part of what facets may lie off that simplifying them may take up. */
const OF_WITHIN = 1 / 8;
/** How often it is looked for edges that touch. */
const MOST_ROUNDS = 3;

/** How far meshes are grown so that what touches overlaps, mm. */
export function grownBy(meshes: readonly SolidMesh[]): number {
  return (
    GROWN *
    meshes.reduce((most, { positions }) => positions.reduce((a, b) => Math.max(a, Math.abs(b)), most), 0)
  );
}

/** One solid of flat facets. @param within how far they may lie off, mm */
export async function sealInFacets(
  context: PlanContext,
  { lite, reduced: { gap }, outside, bead, guests }: ToSeal,
  within: number,
): Promise<Sealed> {
  await context.progress('Meshing the bodies', 0, 2);
  const meshes: SolidMesh[] = await context.kernel.run(
    'meshSolids',
    { step: lite, chord: within / OVERSTEPPED, angle: ANGLE },
    { signal: context.signal },
  );
  await context.progress('Uniting the meshes', 1, 2);
  const grown = grownBy(meshes);
  let union: MeshUnion = await uniteMeshes(meshes, [], grown, guests);
  let pins: ReturnType<typeof findPins> = [];
  if (union.solids.length > 1) {
    pins = findPins(union.solids, gap, outside);
    if (pins.length > 0) union = await uniteMeshes(meshes, pins, grown, guests);
  }
  return finished(context, union, 'facets', { pins: pins.length, bead, within: OF_WITHIN * within, guests });
}

/** Part of what an envelope may stand off that meshing and growing may take up. */
const OF_STAND_OFF = 1 / 8;

/**
 * An envelope around all of it: convex pieces that hold everything, and stand off by no more than asked. What is nearer to each other than that
 * may become one; nothing of the original stands out.
 * @param standOff mm
 */
export async function sealInEnvelope(
  context: PlanContext,
  { lite, guests, bead }: ToSeal,
  standOff: number,
): Promise<Sealed> {
  await context.progress('Meshing the bodies', 0, 3);
  const chord = OF_STAND_OFF * standOff;
  const meshes: SolidMesh[] = await context.kernel.run(
    'meshSolids',
    { step: lite, chord: chord / OVERSTEPPED, angle: ANGLE },
    { signal: context.signal },
  );
  // Triangles lie inside of what is round: grown by as much they hold all of it.
  const united = await uniteMeshes(meshes, [], chord, guests);
  await context.progress('Laying an envelope around it', 1, 3);
  const pieces = await envelopePieces(united.solids, standOff - 2 * chord);
  context.signal.throwIfAborted();
  const union = await uniteMeshes(pieces, [], 0);
  const given = { pins: 0, bead, within: 0, guests };
  const sealed = await finished(context, { ...union, refused: united.refused }, 'envelope', given);
  return { ...sealed, standOff };
}

/** Beads where solids touch themselves, fewer triangles where those may lie off, and what is said of them. @param within how far triangles may come to lie off by that, mm */
async function finished(
  context: PlanContext,
  first: MeshUnion,
  way: 'facets' | 'envelope',
  { pins, bead, within, guests }: { pins: number; bead: number; within: number } & Pick<ToSeal, 'guests'>,
): Promise<Sealed> {
  let union = first;
  const { hollows } = union;
  const odd = union.refused.length;
  let beads = 0;
  // Beads may touch in their turn, where they meet.
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const touching = union.solids.flatMap(touchingEdges);
    if (touching.length === 0) break;
    beads += touching.length;
    union = await uniteMeshes(union.solids, beadsAlong(touching, bead), 0, guests);
  }
  await context.progress('Simplifying the solid', 2, 3);
  const solids: SolidMesh[] = [];
  for (const solid of union.solids) {
    const tidied = tidiedMesh(solid);
    solids.push(within > 0 ? await simplifiedSolid(tidied, within) : tidied);
  }
  return {
    way,
    solids: solids.map((mesh) => ({
      shape: { mesh },
      mesh: displayMesh(mesh),
      closed: mesh,
      volume: meshVolume(mesh),
      isValid: isClosed(mesh),
    })),
    hollows,
    pins,
    beads,
    nudged: null,
    faceted: 0,
    standOff: null,
    refused: null,
    odd,
  };
}
