import { createHash } from 'node:crypto';
import { geometryOf } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import type { BodyFacts } from '#core/geometry/shape/body';
import type { BodyToTrim } from '#core/geometry/shape/jobs/trim-bodies';
import type { TrimmedShape } from '#core/geometry/shape/occt-trim';
import type { Sunk } from '#core/geometry/solids/sunk';
import type { PlanContext } from '#core/planning';
import { invertRigid, multiply } from '#core/product/matrix';
import type { ReduceChoices } from './choices';
import type { RemadeBody } from './left';
import type { ReducedWhole } from './reduced-whole';

/** So many kernels cut, where there are as many. */
const SHARES = 2;
/** How far figures of one shape may differ, of their size. */
const SAME = 1e-6;
/** How far the kernel's part of a volume may differ from that of the meshes. */
const ALIKE = 0.02;

/**
 * Cuts off what of bodies ends inside others, or passes through them: whoever reads the file would find there what nobody sees. What is cut
 * off lies in the other's material, so the outside stays as it is, to the face where the one enters the other. What cannot be cut off is
 * named by a warning, and stays.
 * @param sunk what lies in others, by position in the whole
 */
export async function trimBodies(
  context: PlanContext,
  reduced: ReducedWhole,
  { keepFaces }: Pick<ReduceChoices, 'keepFaces'>,
  sunk: ReadonlyMap<number, Sunk>,
): Promise<Map<number, RemadeBody>> {
  const { whole, filled, originals, remade } = reduced;
  const trimmed = new Map<number, RemadeBody>();
  if (sunk.size === 0) return trimmed;

  // 1. What is cut in the same way is cut once.
  const sources: SourcePart[] = [];
  const fileOf = (source: SourcePart) => {
    const known = sources.indexOf(source);
    return known >= 0 ? known : sources.push(source) - 1;
  };
  const bodyAt = (n: number) => {
    const { file, body } = whole.shapes[whole.bodies[n]!.shape]!;
    const anew = remade.get(n)?.source;
    if (anew) return { file: fileOf(anew), body: anew.bodies[0]!.id };
    return { file: fileOf(filled.get(file)?.source ?? originals.get(file)!), body: body.id };
  };
  const keptIn = new Set(keepFaces.map(({ file }) => file));
  const wanted = new Map<string, { request: BodyToTrim; bodies: number[]; outside: number }>();
  for (const [n, { outside, hosts }] of sunk) {
    const { shape, placement } = whole.bodies[n]!;
    if (outside === 0 || keptIn.has(whole.shapes[shape]!.file)) {
      context.draft.warn(
        `${nameOf(n)} lies inside of other parts, at least in part, and stays as it is: leave out what cannot be touched from outside, or let go of what keeps it.`,
      );
      continue;
    }
    const back = invertRigid(placement);
    const others = hosts.map((host) => ({
      ...bodyAt(host),
      placement: multiply(back, whole.bodies[host]!.placement),
    }));
    const key = JSON.stringify([
      shape,
      others.map((other) => [other.file, other.body, other.placement.map((value) => value.toFixed(6))]),
    ]);
    const known = wanted.get(key);
    if (known) known.bodies.push(n);
    else wanted.set(key, { request: { ...bodyAt(n), others }, bodies: [n], outside });
  }

  // 2. The kernel cuts, and is held against the meshes.
  const asked = [...wanted.values()];
  const requests = asked.map(({ request }) => request);
  const key = createHash('sha256').update(JSON.stringify(requests));
  const files = sources.map(({ file }) => file);
  for (const { bytes } of files) key.update(bytes);
  const results = await context.remember(`trimmed ${key.digest('hex')}`, () =>
    trimAll(context, files, requests),
  );
  // What came out the same is one part in several places, as a row of screws is.
  const cut: { shape: number; facts: BodyFacts; body: RemadeBody }[] = [];
  for (const [at, result] of results.entries()) {
    const { bodies, outside, request } = asked[at]!;
    const isAlike =
      typeof result !== 'string' && Math.abs(result.facts.volume / result.before - outside) < ALIKE;
    if (typeof result === 'string' || !isAlike) {
      const why = typeof result === 'string' ? result : 'What would be left of it is not what is expected.';
      for (const n of bodies)
        context.draft.warn(`${nameOf(n)} ends inside of other parts and could not be cut off there. ${why}`);
      continue;
    }
    const { shape } = whole.bodies[bodies[0]!]!;
    let made = cut.find((other) => other.shape === shape && areAlike(other.facts, result.facts));
    if (!made) {
      made = {
        shape,
        facts: result.facts,
        body: {
          source: new SourcePart(sources[request.file]!.path, result.step),
          coarser: remade.get(bodies[0]!)?.coarser ?? null,
          rounded: remade.get(bodies[0]!)?.rounded ?? 0,
          isEnvelope: false,
          isCut: true,
          mesh: result.mesh,
          geometry: await geometryOf(result.mesh),
          volume: result.facts.volume,
        },
      };
      cut.push(made);
    }
    for (const n of bodies) trimmed.set(n, made.body);
  }
  return trimmed;

  function nameOf(n: number): string {
    return whole.occurrences[whole.bodies[n]!.occurrence]!.name;
  }
}

/** Has the kernels cut, a share each. */
async function trimAll(
  { kernel, progress, signal }: PlanContext,
  files: readonly { bytes: Uint8Array }[],
  requests: readonly BodyToTrim[],
): Promise<(TrimmedShape | string)[]> {
  const each = Math.ceil(requests.length / SHARES);
  const shares = Array.from({ length: SHARES }, (_, n) => requests.slice(n * each, (n + 1) * each));
  const done = shares.map(() => 0);
  const cut = await Promise.all(
    shares.map((bodies, n) => {
      if (bodies.length === 0) return [];
      const used = [...new Set(bodies.flatMap((one) => [one.file, ...one.others.map(({ file }) => file)]))];
      const place = <In extends { file: number }>(one: In): In => ({ ...one, file: used.indexOf(one.file) });
      return kernel.run(
        'trimBodies',
        {
          files: used.map((file) => files[file]!.bytes),
          bodies: bodies.map((one) => ({ ...place(one), others: one.others.map(place) })),
        },
        {
          signal,
          onTold: (count) => {
            done[n] = count;
            const all = done.reduce((sum, own) => sum + own, 0);
            void progress('Cutting off what ends inside', all, requests.length).catch(() => {});
          },
        },
      );
    }),
  );
  return cut.flat();
}

/** Whether two bodies in one place have the same shape, as far as what is measured of them tells. */
function areAlike(a: BodyFacts, b: BodyFacts): boolean {
  const figures = (facts: BodyFacts) => [
    Math.cbrt(facts.volume),
    Math.sqrt(facts.area),
    facts.faces,
    ...facts.centre,
    ...facts.moments.map((moment) => moment ** (1 / 5)),
  ];
  const others = figures(b);
  return figures(a).every((value, n) => Math.abs(value - others[n]!) <= SAME * Math.max(1, Math.abs(value)));
}
