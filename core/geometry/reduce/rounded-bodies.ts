import { createHash } from 'node:crypto';
import { geometryOf } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { findToothing, type Toothing } from '#core/geometry/toothing/toothing';
import { meshOfBody, type Whole } from '#core/geometry/whole/whole';
import { append, groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import type { ReduceChoices } from './choices';
import { bodiesLeft } from './decide';
import type { PartWithOpenings } from './filled-parts';
import type { RemadeBody } from './left';
import type { ReducedWhole } from './reduced-whole';

/** Whether rings are filled: chosen, and not switched off. */
export function isRoundingOut({ roundOut, off }: Pick<ReduceChoices, 'roundOut' | 'off'>): boolean {
  return roundOut && !off.includes('round');
}

/** The rings of teeth, threads and fins in the bodies of a file, by number of the body. Remembered by content. */
function toothingIn(
  context: PlanContext,
  { source, sha256, bodies }: PartWithOpenings,
): Promise<Map<number, Toothing[]>> {
  return context.remember(`toothing ${sha256} ${source.path}`, async () => {
    const meshes = await context.meshes(source.path);
    const found = new Map<number, Toothing[]>();
    for (const [body, { topology, openings }] of bodies) {
      const mesh = meshes.get(body);
      const rings = mesh ? findToothing(topology, openings, mesh) : [];
      if (rings.length > 0) found.set(body, rings);
    }
    return found;
  });
}

/** The same for several files, by their paths. */
export async function toothingOf(
  context: PlanContext,
  parts: ReadonlyMap<string, PartWithOpenings>,
): Promise<Map<string, Map<number, Toothing[]>>> {
  const found = new Map<string, Map<number, Toothing[]>>();
  for (const [path, part] of parts) found.set(path, await toothingIn(context, part));
  return found;
}

/**
 * Makes plain rings of the teeth, threads and fins of bodies that stay, by the kernel; of those that were made coarser, as they are now. What
 * cannot be is named by a warning, and stays.
 */
export async function roundOutLeft(
  context: PlanContext,
  { whole, decision, filled, openings, originals, remade: coarser }: ReducedWhole,
  { keepFaces }: Pick<ReduceChoices, 'keepFaces'>,
): Promise<Map<number, RemadeBody>> {
  const remade = new Map<number, RemadeBody>();
  const keptIn = new Set(keepFaces.map(({ file }) => file));
  const placings = groupBy(bodiesLeft(decision), (n) => whole.bodies[n]!.shape);

  // 1. Bodies with rings, by the text that they stand in.
  const asked = new Map<SourcePart, BodyWithRings[]>();
  for (const [shape, [first]] of placings) {
    const { file: path, body } = whole.shapes[shape]!;
    const part = openings.get(path);
    const rings = part && !keptIn.has(path) ? (await toothingIn(context, part)).get(body.id) : undefined;
    if (!rings) continue;
    const anew = coarser.get(first!);
    const source = anew?.source ?? filled.get(path)?.source ?? originals.get(path)!;
    append(asked, source, { shape, path, body: anew ? source.bodies[0]!.id : body.id, rings, before: anew });
  }

  // 2. Each text goes to the kernel once.
  for (const [source, bodies] of asked) {
    context.signal.throwIfAborted();
    for (const [n, result] of (await roundedIn(context, source, bodies)).entries()) {
      const { shape, path, body } = bodies[n]!;
      if (typeof result === 'string')
        context.draft.warn(`${path}: teeth or fins of body #${body} stay as they are. ${result}`);
      else for (const placing of placings.get(shape)!) remade.set(placing, result);
    }
  }
  return remade;
}

interface BodyWithRings {
  shape: number;
  path: string;
  /** Its number in the text. */
  body: number;
  rings: Toothing[];
  /** What was made of it already. */
  before: RemadeBody | undefined;
}

/** What becomes of the bodies of one text, each in turn. Remembered by it. */
function roundedIn(
  context: PlanContext,
  { path, file: { bytes } }: SourcePart,
  asked: readonly BodyWithRings[],
): Promise<(RemadeBody | string)[]> {
  const bodies = asked.map(({ body, rings }) => ({
    body,
    rings: rings.map(({ faces: _, ...ring }) => ring),
  }));
  const key = createHash('sha256').update(bytes).update(JSON.stringify(bodies)).digest('hex');
  return context.remember(`rounded out ${key}`, async () => {
    await context.progress(`Rounding out ${path}`, 0, 1);
    const results = await context.kernel.run('roundOut', { step: bytes, bodies }, { signal: context.signal });
    return Promise.all(
      results.map(async (result, n): Promise<RemadeBody | string> => {
        if (typeof result === 'string') return result;
        return {
          source: new SourcePart(path, result.step),
          coarser: asked[n]!.before?.coarser ?? null,
          rounded: Math.max(...asked[n]!.rings.map(({ inner, outer }) => outer - inner)),
          isEnvelope: false,
          isCut: false,
          mesh: result.mesh,
          geometry: await geometryOf(result.mesh),
          volume: result.facts.volume,
        };
      }),
    );
  });
}

/** How many faces filling rings takes away from bodies, about: a ring has one face then. */
export function roundableFaces(
  whole: Whole,
  staying: readonly number[],
  toothing: ReadonlyMap<string, ReadonlyMap<number, readonly Toothing[]>>,
): number {
  let faces = 0;
  for (const n of staying) {
    if (!meshOfBody(whole, n)) continue;
    const { file, body } = whole.shapes[whole.bodies[n]!.shape]!;
    for (const ring of toothing.get(file)?.get(body.id) ?? []) faces += ring.faces.length - 1;
  }
  return faces;
}
