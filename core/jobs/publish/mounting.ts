import { everythingReached } from '#core/geometry/reach/classes';
import type { KeptFace } from '#core/geometry/reduce/choices';
import { likeness, SURE, traceOf } from '#core/geometry/reduce/face-trace';
import { openingsOf } from '#core/geometry/reduce/filled-parts';
import { proposeMounting } from '#core/geometry/reduce/mounting';
import type { Whole } from '#core/geometry/whole/whole';
import type { PlanContext } from '#core/planning';
import type { PublishedFace } from '#core/project/change/published-facts';
import { Refusal } from '#core/refusal';
import type { PublishChoices } from './choices';

type AskedFace = NonNullable<PublishChoices['mounting']>[number];

/** A face of the file that its page could name. */
export interface FaceToOffer extends AskedFace {
  /** What it measures, where it is known what it is. */
  size: string | null;
  isOffered: boolean;
}

/** What the page of a file says of how it is mounted. */
export interface Mounting {
  faces: PublishedFace[];
  /** Faces to choose from: those that are named, then others that it is probably mounted by. */
  candidates: FaceToOffer[];
}

/** So many are named where nobody said which. */
const MOST_BY_ITSELF = 6;

/**
 * The faces that a file is mounted by, measured in the file itself.
 * @param kept faces that it was made to keep, as they were known in the original
 * @throws Refusal for a face that was named before and is not there any more
 */
export async function mountingOf(
  context: PlanContext,
  whole: Whole,
  path: string,
  asked: PublishChoices['mounting'],
  kept: readonly KeptFace[],
): Promise<Mounting> {
  const part = await openingsOf(context, path);
  const meshes = await context.meshes(path);
  const found = proposeMounting(whole, everythingReached(whole), (file) =>
    file === path ? part : undefined,
  );
  const sizeOf = new Map(found.map(({ face, name }) => [face, name]));
  const traces = new Map(
    [...part.bodies].flatMap(([body, { topology }]) =>
      topology.faces.map(({ id }, position) => [id, traceOf(topology, position, meshes.get(body)!)] as const),
    ),
  );
  /** The face that is most like a trace. */
  const faceLike = (trace: NonNullable<AskedFace['trace']>): number | undefined => {
    let best: number | undefined;
    let most = SURE;
    for (const [face, own] of traces) {
      const alike = likeness(trace, own);
      if (alike > most) [best, most] = [face, alike];
    }
    return best;
  };

  const named: { face: number; name: string }[] = [];
  const unknown: string[] = [];
  if (asked === null)
    for (const { name, trace } of kept) {
      const face = trace ? faceLike(trace) : undefined;
      if (face !== undefined) named.push({ face, name });
      else if (name !== '') unknown.push(name);
    }
  else
    for (const { face, name, trace } of asked) {
      const now = trace ? faceLike(trace) : traces.has(face) ? face : undefined;
      if (now === undefined)
        throw new Refusal(
          `The face “${name || `#${face}`}” that the page of ${path} names is not there any more. Choose its mounting faces anew.`,
        );
      named.push({ face: now, name });
    }
  if (asked === null && kept.length === 0)
    for (const { face, kind } of found)
      if (kind !== 'flat end' && named.length < MOST_BY_ITSELF) named.push({ face, name: '' });

  const others = found.filter(({ face }) => !named.some((one) => one.face === face));
  const candidates = [...named, ...others.map(({ face }) => ({ face, name: '' }))].map(
    ({ face, name }, n): FaceToOffer => ({
      face,
      name,
      trace: traces.get(face) ?? null,
      size: sizeOf.get(face) ?? null,
      isOffered: n < named.length,
    }),
  );
  return {
    faces: [
      ...named.flatMap(({ face, name }) => {
        const size = sizeOf.get(face);
        if (name === '') return size === undefined ? [] : [{ name: size, size: null }];
        return [{ name, size: size === undefined || size === name ? null : size }];
      }),
      ...unknown.map((name) => ({ name, size: null })),
    ],
    candidates,
  };
}
