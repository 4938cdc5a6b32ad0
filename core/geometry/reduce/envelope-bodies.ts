import { createHash } from 'node:crypto';
import { geometryOf } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { ANGLE, OVERSTEPPED } from '#core/geometry/shape/coarse-meshing';
import { faceCount, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { chordOfEnvelope, envelopeAround } from '#core/geometry/solids/envelope';
import { tidiedMesh } from '#core/geometry/solids/touching';
import { writeSolid } from '#core/geometry/solids/write-solid';
import { groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import type { Body } from '#core/product/structure';
import type { ReduceChoices } from './choices';
import { bodiesLeft } from './decide';
import { meshLeft, type RemadeBody } from './left';
import type { ReducedWhole } from './reduced-whole';
import { singleBody } from './single-body';

/** Whether each part gets an envelope: chosen, and not switched off. */
export function isEnveloping({ envelopes, off }: Pick<ReduceChoices, 'envelopes' | 'off'>): boolean {
  return envelopes !== null && !off.includes('round');
}

/**
 * Lays an envelope around each body that stays, in place of it: nothing of the body stands out, and it stands off by no more than asked. A body that
 * has fewer faces itself stays, and so do those of files with faces that stay. What is no closed solid is named by a warning.
 */
export async function envelopeLeft(
  context: PlanContext,
  reduced: ReducedWhole,
  { envelopes, keepFaces }: Pick<ReduceChoices, 'envelopes' | 'keepFaces'>,
): Promise<Map<number, RemadeBody>> {
  const remade = new Map<number, RemadeBody>();
  if (envelopes === null) return remade;
  const { whole, decision, filled, originals } = reduced;
  const meshOf = meshLeft(reduced);
  const keptIn = new Set(keepFaces.map(({ file }) => file));
  const placings = groupBy(bodiesLeft(decision), (n) => whole.bodies[n]!.shape);
  let done = 0;
  for (const [shape, numbers] of placings) {
    const { file: path, body } = whole.shapes[shape]!;
    await context.progress(`Laying envelopes: ${path}`, done++, placings.size);
    context.signal.throwIfAborted();
    if (keptIn.has(path)) continue;
    const part = filled.get(path)?.source ?? originals.get(path)!;
    const digest = createHash('sha256').update(part.file.bytes).digest('hex');
    const made = await context.remember(`envelope ${digest} ${path} ${body.id} ${envelopes}`, () =>
      envelopeOf(context, part, body, envelopes),
    );
    if (!made) context.draft.warn(`${path}: body #${body.id} is no closed solid, and has no envelope.`);
    else if (faceCount(made.geometry) < faceCount(meshOf(numbers[0]!)))
      for (const n of numbers) remade.set(n, made);
  }
  return remade;
}

async function envelopeOf(
  { kernel, signal }: Pick<PlanContext, 'kernel' | 'signal'>,
  part: SourcePart,
  body: Body,
  standOff: number,
): Promise<RemadeBody | null> {
  const step = singleBody(part, body).file.bytes;
  const chord = chordOfEnvelope(standOff) / OVERSTEPPED;
  const meshes: SolidMesh[] = await kernel.run('meshSolids', { step, chord, angle: ANGLE }, { signal });
  const { solids, refused } = await envelopeAround(meshes, standOff);
  const [main, ...more] = solids;
  if (!main || more.length > 0 || refused.length > 0) return null;
  const source = new SourcePart(part.path, writeSolid([{ mesh: tidiedMesh(main) }], 'part', ''));
  const [own] = source.bodies;
  const options = { details: 'none', check: true, signal } as const;
  const [shape] = await kernel.shapeBodies(source.file.bytes, [own!.id], options);
  if (!shape || !('facts' in shape) || !shape.mesh || shape.isValid !== true) return null;
  return {
    source,
    coarser: null,
    rounded: 0,
    isEnvelope: true,
    isCut: false,
    mesh: shape.mesh,
    geometry: await geometryOf(shape.mesh),
    volume: shape.facts.volume,
  };
}
