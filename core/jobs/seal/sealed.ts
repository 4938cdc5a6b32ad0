import { Part21File } from '#core/files/part21/file';
import { readTopology } from '#core/geometry/fill/read-topology';
import { OddTopology } from '#core/geometry/fill/topology';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import type { BodyMesh } from '#core/geometry/shape/body';
import { meshVolume } from '#core/geometry/shape/doubt';
import { displayMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { Pin } from '#core/geometry/shape/unite';
import { type MeshUnion, uniteMeshes } from '#core/geometry/solids/mesh-union';
import type { PlanContext } from '#core/planning';
import type { Box } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { readStructure } from '#core/product/structure';
import { Refusal } from '#core/refusal';
import type { SealChoices } from './choices';
import { outsidePoints } from './outside-points';
import { findPins } from './pins';
import { beadsAlong, isClosed, tidiedMesh, touchingEdges } from './touching';
import type { SolidShape } from './write-solid';

/** One solid that came of it. */
export interface SealedSolid {
  shape: SolidShape;
  mesh: BodyMesh;
  volume: number;
  isValid: boolean;
}

/** The solids, the one that counts first, however they were made. */
export interface Sealed {
  way: 'exact' | 'facets';
  solids: SealedSolid[];
  hollows: number;
  pins: number;
  /** Edges along which bodies only touched, and that are joined by a bead. */
  beads: number;
  refused: string | null;
  /** Bodies that were left out: they are no closed solids. */
  odd: number;
}

/** Radius of a bead, of what facets may lie off. */
export const BEAD = 0.05;
/** How far meshes are grown, of their furthest coordinate: four times what their numbers are rounded by. */
const GROWN = 2 ** -21;
/** How often it is looked for edges that touch. */
const MOST_ROUNDS = 3;

/**
 * Makes one solid of what a lite model would place: exactly where that succeeds, else of facets.
 * @param guests boxes of what is no part of it and stands in hollows of it: those stay
 * @throws Refusal where neither does
 */
export async function seal(
  context: PlanContext,
  lite: Uint8Array,
  reduced: ReducedWhole,
  { way, within, keepFaces }: Pick<SealChoices, 'way' | 'within' | 'keepFaces'>,
  guests: readonly Box[] = [],
): Promise<Sealed> {
  const outside = outsidePoints(reduced);
  let refused: string | null = null;
  if (way !== 'facets') {
    try {
      const exact = await sealExactly(context, lite, reduced.gap, outside, within * BEAD, guests);
      if (exact.solids[0]?.isValid) return exact;
      refused = 'The exact result is not valid.';
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      context.signal.throwIfAborted();
      refused = error.message;
    }
    if (way === 'exact') throw new Refusal(`${refused} Choose facets, or leave the choice to the program.`);
  }
  const faceted = await sealInFacets(
    context,
    lite,
    reduced.gap,
    outside,
    keepFaces.length > 0 ? within / 10 : within / 2,
    within * BEAD,
    guests,
  );
  return { ...faceted, refused };
}

async function sealExactly(
  context: PlanContext,
  lite: Uint8Array,
  gap: number,
  outside: readonly Vector3[],
  bead: number,
  guests: readonly Box[],
): Promise<Sealed> {
  const unite = (pins: readonly Pin[]) =>
    context.kernel.run(
      'uniteSolids',
      { step: lite, pins, guests },
      { signal: context.signal, onTold: (doing) => void context.progress(doing, 0, 1).catch(() => {}) },
    );
  let union = await unite([]);
  let pins: ReturnType<typeof findPins> = [];
  if (union.solids.length > 1) {
    pins = findPins(
      union.solids.map(({ mesh }) => mesh),
      gap,
      outside,
    );
    if (pins.length > 0) union = await unite(pins);
  }
  const closedIn = ({ solids }: typeof union) => solids.map(({ step }) => hasClosedText(step));
  let areClosed = closedIn(union);
  const touching = union.solids.flatMap(({ mesh }, n) => (areClosed[n] ? [] : touchingEdges(mesh)));
  if (touching.length > 0) {
    union = await unite([...pins, ...beadsAlong(touching, bead)]);
    areClosed = closedIn(union);
  }
  return {
    way: 'exact',
    solids: union.solids.map(({ step, mesh, facts, isValid }, n) => ({
      shape: { step },
      mesh,
      volume: facts.volume,
      isValid: isValid && !facts.doubt && areClosed[n]!,
    })),
    hollows: union.solids.reduce((sum, { hollows }) => sum + hollows, 0),
    pins: pins.length,
    beads: touching.length,
    refused: null,
    odd: union.surfaces,
  };
}

/** Whether every edge of the solid in a STEP file has two faces: the kernel lets more pass. */
function hasClosedText(step: Uint8Array): boolean {
  const file = Part21File.read(step);
  try {
    for (const { bodies } of readStructure(file).products)
      for (const body of bodies) readTopology(file, body, 1);
    return true;
  } catch (error) {
    if (error instanceof OddTopology) return false;
    throw error;
  }
}

async function sealInFacets(
  context: PlanContext,
  lite: Uint8Array,
  gap: number,
  outside: readonly Vector3[],
  chord: number,
  bead: number,
  guests: readonly Box[],
): Promise<Sealed> {
  await context.progress('Meshing the bodies', 0, 2);
  const meshes: SolidMesh[] = await context.kernel.run(
    'meshSolids',
    { step: lite, chord },
    { signal: context.signal },
  );
  await context.progress('Uniting the meshes', 1, 2);
  const grown =
    GROWN *
    meshes.reduce((most, { positions }) => positions.reduce((a, b) => Math.max(a, Math.abs(b)), most), 0);
  let union: MeshUnion = await uniteMeshes(meshes, [], grown, guests);
  let pins: ReturnType<typeof findPins> = [];
  if (union.solids.length > 1) {
    pins = findPins(union.solids, gap, outside);
    if (pins.length > 0) union = await uniteMeshes(meshes, pins, grown, guests);
  }
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
  const solids = union.solids.map(tidiedMesh);
  return {
    way: 'facets',
    solids: solids.map((mesh) => ({
      shape: { mesh },
      mesh: displayMesh(mesh),
      volume: meshVolume(mesh),
      isValid: isClosed(mesh),
    })),
    hollows,
    pins: pins.length,
    beads,
    refused: null,
    odd,
  };
}
