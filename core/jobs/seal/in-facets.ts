import { ANGLE, OVERSTEPPED } from '#core/geometry/shape/coarse-meshing';
import { meshVolume } from '#core/geometry/shape/doubt';
import { displayMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { chordOfEnvelope, envelopeAround } from '#core/geometry/solids/envelope';
import { type MeshUnion, uniteMeshes } from '#core/geometry/solids/mesh-union';
import { simplifiedSolid } from '#core/geometry/solids/simplified-solid';
import { beadsAlong, isClosed, tidiedMesh, touchingEdges } from '#core/geometry/solids/touching';
import type { PlanContext } from '#core/planning';
import { findPins } from './pins';
import type { Sealed, ToSeal } from './sealed-solid';

/** How far meshes are grown, of their furthest coordinate: four times what their numbers are rounded by. */
const GROWN = 2 ** -21;
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

/** An envelope around all of it. @param standOff how far it may stand off, mm */
export async function sealInEnvelope(
  context: PlanContext,
  { lite, guests, bead }: ToSeal,
  standOff: number,
): Promise<Sealed> {
  await context.progress('Meshing the bodies', 0, 3);
  const meshes: SolidMesh[] = await context.kernel.run(
    'meshSolids',
    { step: lite, chord: chordOfEnvelope(standOff) / OVERSTEPPED, angle: ANGLE },
    { signal: context.signal },
  );
  await context.progress('Laying an envelope around it', 1, 3);
  const union = await envelopeAround(meshes, standOff, guests);
  context.signal.throwIfAborted();
  const sealed = await finished(context, union, 'envelope', { pins: 0, bead, within: 0, guests });
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
