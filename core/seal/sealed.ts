import type { ReducedWhole } from '#core/lite/plan';
import type { PlanContext } from '#core/operation';
import type { Vector3 } from '#core/product/matrix';
import { Refusal } from '#core/refusal';
import type { BodyMesh } from '#core/shape/body';
import { meshVolume } from '#core/shape/doubt';
import { displayMesh, type SolidMesh } from '#core/shape/solid-mesh';
import type { Pin } from '#core/shape/unite';
import type { SealChoices } from './choices';
import { isClosed, type MeshUnion, uniteMeshes } from './mesh-union';
import { outsidePoints } from './outside-points';
import { findPins } from './pins';
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
  refused: string | null;
  /** Bodies that were left out: they are no closed solids. */
  odd: number;
}

/** Makes one solid of what a lite model would place: exactly where that succeeds, else of facets. @throws Refusal where neither does */
export async function seal(
  context: PlanContext,
  lite: Uint8Array,
  reduced: ReducedWhole,
  { way, within, keepFaces }: SealChoices,
): Promise<Sealed> {
  const outside = outsidePoints(reduced, false);
  let refused: string | null = null;
  if (way !== 'facets') {
    try {
      const exact = await sealExactly(context, lite, reduced.gap, outside);
      if (exact.solids[0]?.isValid) return exact;
      refused = 'The geometry kernel’s result is not valid.';
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
  );
  return { ...faceted, refused };
}

async function sealExactly(
  context: PlanContext,
  lite: Uint8Array,
  gap: number,
  outside: readonly Vector3[],
): Promise<Sealed> {
  const unite = (pins: readonly Pin[]) =>
    context.kernel.run(
      'uniteSolids',
      { step: lite, pins },
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
  return {
    way: 'exact',
    solids: union.solids.map(({ step, mesh, facts, isValid }) => ({
      shape: { step },
      mesh,
      volume: facts.volume,
      isValid: isValid && !facts.doubt,
    })),
    hollows: union.solids.reduce((sum, { hollows }) => sum + hollows, 0),
    pins: pins.length,
    refused: null,
    odd: union.surfaces,
  };
}

async function sealInFacets(
  context: PlanContext,
  lite: Uint8Array,
  gap: number,
  outside: readonly Vector3[],
  chord: number,
): Promise<Sealed> {
  await context.progress('Meshing the bodies', 0, 2);
  const meshes: SolidMesh[] = await context.kernel.run(
    'meshSolids',
    { step: lite, chord },
    { signal: context.signal },
  );
  await context.progress('Uniting the meshes', 1, 2);
  let union: MeshUnion = await uniteMeshes(meshes, []);
  let pins: ReturnType<typeof findPins> = [];
  if (union.solids.length > 1) {
    pins = findPins(union.solids, gap, outside);
    if (pins.length > 0) union = await uniteMeshes(meshes, pins);
  }
  return {
    way: 'facets',
    solids: union.solids.map((mesh) => ({
      shape: { mesh },
      mesh: displayMesh(mesh),
      volume: meshVolume(mesh),
      isValid: isClosed(mesh),
    })),
    hollows: union.hollows,
    pins: pins.length,
    refused: null,
    odd: union.refused.length,
  };
}
