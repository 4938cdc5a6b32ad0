import { Part21File } from '#core/files/part21/file';
import { readTopology } from '#core/geometry/fill/read-topology';
import { OddTopology } from '#core/geometry/fill/topology';
import { meshesLeft, volumesLeft } from '#core/geometry/reduce/left';
import { OVERSTEPPED } from '#core/geometry/shape/coarse-meshing';
import { meshVolume } from '#core/geometry/shape/doubt';
import type { OcctUnion, UnionRequest } from '#core/geometry/shape/occt-unite';
import { placedMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { Pin } from '#core/geometry/shape/unite';
import { uniteMeshes } from '#core/geometry/solids/mesh-union';
import { missingIn } from '#core/geometry/solids/missing';
import { beadsAlong, type Edge, isClosed, tidiedMesh, touchingEdges } from '#core/geometry/solids/touching';
import { writeSolid } from '#core/geometry/solids/write-solid';
import type { PlanContext } from '#core/planning';
import { type Box, boxOfPositions, diagonalOf, doBoxesMeet } from '#core/product/box';
import { readStructure } from '#core/product/structure';
import { grownBy } from './in-facets';
import { findPins } from './pins';
import type { Sealed, SealedSolid, ToSeal } from './sealed-solid';

/** How bodies that the kernel cannot unite are made larger or smaller, in turn, mm: their faces then no longer touch badly. */
const LARGER = 5e-3;
const NUDGES = [-5e-3, LARGER, -1e-2, -2e-2];
/** Part of the exactness that a nudge may take up. */
const OF_EXACTNESS = 1 / 5;
/** So many times as long as the first try may all others take together; ms at least. */
const [LONGER, PATIENCE] = [3, 10_000];
/** Bodies that stand in for others as facets have no more of them. */
const MOST_FACETS = 2500;
/** Part of a volume by which the result may be less than its bodies. */
const LOST = 2e-3;
/** How far a body may be from what the kernel finds fault with, mm. */
const NEAR = 0.05;

/** What came of one try. */
interface Try {
  sealed: Sealed;
  /** Why it is not good; null where it is. */
  trouble: string | null;
  /** It is valid and nothing is missing, whatever else it is. */
  isWhole: boolean;
  /** Positions of the solids in the file that are to blame. */
  suspects: number[];
  /** Of the solids in the file, mm. */
  boxes: readonly Box[];
}

/**
 * Unites exactly. Where the kernel fails, what touches badly is nudged, and if that does not help stands in as flat facets while all the rest
 * stays exact; every result is held against the bodies that went into it.
 * @returns null where nothing of it leads to a valid solid; and why
 */
export async function sealExactly(
  context: PlanContext,
  given: ToSeal,
): Promise<{ sealed: Sealed | null; refused: string | null }> {
  let known: Promise<Bodies> | undefined;
  const bodies = () => (known ??= bodiesOf(context, given));
  const start = performance.now();
  const first = await tryToUnite(context, given, bodies, {});
  if (first.trouble === null) return { sealed: first.sealed, refused: null };
  // What is valid and only in more pieces than it should be is better than facets.
  const spare = first.isWhole ? { sealed: first.sealed, refused: null } : null;
  const deadline = start + Math.max(PATIENCE, (1 + LONGER) * (performance.now() - start));
  const suspects = new Set(first.suspects);
  if (suspects.size === 0)
    for (const solid of await context.kernel.run(
      'unitingTrouble',
      { step: given.lite },
      { signal: context.signal },
    ))
      suspects.add(solid);
  if (suspects.size === 0) for (const solid of touchingSolids(first.boxes)) suspects.add(solid);
  // What only stays apart may meet when it is larger, and in no other way.
  for (const by of spare ? [LARGER] : NUDGES) {
    if (Math.abs(by) > OF_EXACTNESS * given.within || performance.now() > deadline) continue;
    await context.progress(`Uniting once more, ${suspects.size} bodies nudged by ${by} mm`, 0, 1);
    const next = await tryToUnite(context, given, bodies, {
      nudged: [...suspects].map((solid) => ({ solid, by })),
    });
    if (next.trouble === null)
      return { sealed: { ...next.sealed, nudged: { bodies: suspects.size, by } }, refused: null };
    for (const solid of next.suspects) suspects.add(solid);
  }
  const stand = spare ? null : await standIns(context, given, [...suspects]);
  if (stand) {
    const last = await tryToUnite(context, given, bodies, { replaced: stand });
    if (last.trouble === null) return { sealed: { ...last.sealed, faceted: suspects.size }, refused: null };
  }
  return spare ?? { sealed: null, refused: first.trouble };
}

/** Flat facets in place of some solids; null where they would be too many. */
async function standIns(
  { kernel, signal }: PlanContext,
  { lite, within }: ToSeal,
  solids: readonly number[],
): Promise<UnionRequest['replaced'] | null> {
  const meshes = await kernel.run('meshSolids', { step: lite, chord: within / OVERSTEPPED }, { signal });
  const facets = solids.map((solid) => tidiedMesh(meshes[solid]!));
  const isFit = facets.every((mesh) => isClosed(mesh) && mesh.triangles.length / 3 <= MOST_FACETS);
  if (!isFit) return null;
  return {
    solids,
    by: writeSolid(
      facets.map((mesh) => ({ mesh })),
      'part',
      '',
    ),
  };
}

async function tryToUnite(
  context: PlanContext,
  { lite, reduced, outside, guests, bead }: ToSeal,
  bodiesOnce: () => Promise<Bodies>,
  how: Pick<UnionRequest, 'nudged' | 'replaced'>,
): Promise<Try> {
  const unite = (pins: readonly Pin[]) =>
    context.kernel.run(
      'uniteSolids',
      { step: lite, pins, guests, ...how },
      { signal: context.signal, onTold: (doing) => void context.progress(doing, 0, 1).catch(() => {}) },
    );
  // The kernel has a thread of its own.
  const [first, bodies] = await Promise.all([unite([]), bodiesOnce()]);
  let union = first;
  let pins: ReturnType<typeof findPins> = [];
  if (union.solids.length > 1) {
    pins = findPins(
      union.solids.map(({ mesh }) => mesh),
      reduced.gap,
      outside,
    );
    if (pins.length > 0) union = await unite(pins);
  }
  let areClosed = union.solids.map(({ step }) => hasClosedText(step));
  const touching = touchingIn(union, areClosed);
  if (touching.length > 0) {
    union = await unite([...pins, ...beadsAlong(touching, bead)]);
    areClosed = union.solids.map(({ step }) => hasClosedText(step));
  }
  const solids = union.solids.map(
    ({ step, mesh, facts, isValid }, n): SealedSolid => ({
      shape: { step },
      mesh,
      closed: closedMesh(mesh, facts.volume, bodies.united),
      volume: facts.volume,
      isValid: isValid && !facts.doubt && areClosed[n]!,
    }),
  );
  const sealed: Sealed = {
    way: 'exact',
    solids,
    hollows: union.solids.reduce((sum, { hollows }) => sum + hollows, 0),
    pins: pins.length,
    beads: touching.length,
    nudged: null,
    faceted: 0,
    standOff: null,
    refused: null,
    odd: union.surfaces,
  };
  return { sealed, boxes: union.boxes, ...(await judged(union, solids, areClosed, bodies)) };
}

/** Whether a result is one that can be given out, and who is to blame where it is not. */
async function judged(
  union: OcctUnion,
  solids: readonly SealedSolid[],
  areClosed: readonly boolean[],
  bodies: Bodies,
): Promise<Pick<Try, 'trouble' | 'isWhole' | 'suspects'>> {
  const refused = (trouble: string, places: readonly Box[] = []) => ({
    trouble,
    isWhole: false,
    suspects: [...new Set(places.flatMap((place) => smallestAt(union.boxes, place) ?? []))],
  });
  if (solids.length === 0) return refused('These bodies cannot be united exactly.');
  if (!solids[0]!.isValid) {
    const open = touchingIn(union, areClosed).map((edge) => boxOfPositions(edge.flat()));
    return refused('The exact result is not valid.', [...union.bad, ...open]);
  }
  const missing = await missingFrom(solids, bodies);
  if (missing) return refused('Uniting these bodies exactly would lose material.', missing);
  return solids.length > bodies.united.length
    ? { trouble: 'United exactly, bodies that touch would stay apart.', isWhole: true, suspects: [] }
    : { trouble: null, isWhole: true, suspects: [] };
}

/** Where material is missing from a result; null where none is. */
async function missingFrom(solids: readonly SealedSolid[], bodies: Bodies): Promise<Box[] | null> {
  const closed = solids.map((solid) => solid.closed);
  // Triangles that stand in for those of the result prove nothing of it.
  if (closed.some((mesh) => bodies.united.includes(mesh))) {
    const volume = solids.reduce((sum, solid) => sum + solid.volume, 0);
    return volume < bodies.least ? [] : null;
  }
  const missing = await missingIn(bodies.meshes, closed);
  return missing.length === 0 ? null : missing;
}

/** The bodies that are united, as triangles where they stand. */
interface Bodies {
  meshes: SolidMesh[];
  /** What comes of uniting the triangles. */
  united: SolidMesh[];
  /** What is united exactly has no less volume, mm³. */
  least: number;
}

async function bodiesOf(context: PlanContext, { reduced, guests }: ToSeal): Promise<Bodies> {
  const meshes = meshesLeft(reduced).map((mesh) => placedMesh(mesh, mesh.placement));
  const { solids } = await uniteMeshes(meshes, [], grownBy(meshes), guests);
  // Triangles of round bodies are smaller than these, together by no more than what all of them are.
  const off = Math.abs(
    (await volumesLeft(context, reduced)).reduce((sum, volume) => sum + volume, 0) -
      meshes.reduce((sum, mesh) => sum + meshVolume(mesh), 0),
  );
  const volume = solids.reduce((sum, solid) => sum + meshVolume(solid), 0);
  return { meshes, united: solids, least: (1 - LOST) * volume - off };
}

function touchingIn({ solids }: OcctUnion, areClosed: readonly boolean[]): Edge[] {
  return solids.flatMap(({ mesh }, n) => (areClosed[n] ? [] : touchingEdges(mesh)));
}

/** Where nobody is to blame: all whose boxes meet another's but the largest, which the others are fitted to. */
function touchingSolids(boxes: readonly Box[]): number[] {
  const [, ...others] = [...boxes.keys()].sort((a, b) => diagonalOf(boxes[b]!) - diagonalOf(boxes[a]!));
  return others.filter((n) => boxes.some((box, other) => other !== n && doBoxesMeet(box, boxes[n]!)));
}

/** The smallest body whose box meets a place. */
function smallestAt(boxes: readonly Box[], place: Box): number | undefined {
  const near = [...boxes.keys()].filter((n) => doBoxesMeet(boxes[n]!, place, NEAR));
  return near.sort((a, b) => diagonalOf(boxes[a]!) - diagonalOf(boxes[b]!))[0];
}

/**
 * The triangles of a solid, closed. Where those that the kernel drew are not, although the solid is valid, the union of the bodies' own
 * triangles stands in: that of the same volume.
 */
function closedMesh(drawn: SolidMesh, volume: number, united: readonly SolidMesh[]): SolidMesh {
  const tidied = tidiedMesh(drawn);
  if (isClosed(tidied)) return tidied;
  const offs = united.map((solid) => Math.abs(meshVolume(solid) - volume));
  return united[offs.indexOf(Math.min(...offs))] ?? tidied;
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
