import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import type { Whole } from '#core/geometry/whole/whole';
import type { PlanContext } from '#core/planning';
import { type Box, diagonalOf } from '#core/product/box';
import { Refusal } from '#core/refusal';
import type { SealChoices } from './choices';
import { sealExactly } from './exactly';
import { sealInEnvelope, sealInFacets } from './in-facets';
import { outsidePoints } from './outside-points';
import type { Sealed, ToSeal } from './sealed-solid';

/** Radius of a bead, of what facets may lie off. */
export const BEAD = 0.05;

/**
 * Makes one solid of what a lite model would place: exactly where that succeeds, else of facets.
 * @param guests boxes of what is no part of it and stands in hollows of it: those stay
 * @throws Refusal where neither does
 */
export async function seal(
  context: PlanContext,
  lite: Uint8Array,
  reduced: ReducedWhole,
  choices: Pick<SealChoices, 'way' | 'within' | 'keepFaces' | 'standOff'>,
  guests: readonly Box[] = [],
): Promise<Sealed> {
  const { way, within, keepFaces } = choices;
  const given: ToSeal = {
    lite,
    reduced,
    outside: outsidePoints(reduced),
    guests,
    within,
    bead: within * BEAD,
  };
  if (way === 'envelope') return sealInEnvelope(context, given, standOffOf(choices, reduced.whole));
  let refused: string | null = null;
  if (way !== 'facets') {
    const exact = await exactly(context, given);
    if (exact.sealed) return exact.sealed;
    ({ refused } = exact);
    if (way === 'exact') throw new Refusal(`${refused} Choose facets, or leave the choice to the program.`);
  }
  // Faces for mounting are ten times as near.
  const facets = keepFaces.length > 0 ? within / 10 : within;
  return { ...(await sealInFacets(context, given, facets)), refused };
}

/** Part of the whole's diagonal by which an envelope stands off unless it is said. */
const USUAL_STAND_OFF = 0.1;

/** mm. */
export function standOffOf({ standOff }: Pick<SealChoices, 'standOff'>, whole: Whole): number {
  return standOff ?? Number((USUAL_STAND_OFF * diagonalOf(whole.box)).toPrecision(2));
}

/** The same, but for a kernel that breaks down: then there is no exact way either. */
async function exactly(context: PlanContext, given: ToSeal): ReturnType<typeof sealExactly> {
  try {
    return await sealExactly(context, given);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    context.signal.throwIfAborted();
    return { sealed: null, refused: error.message };
  }
}
