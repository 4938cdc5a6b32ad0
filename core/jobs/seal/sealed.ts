import { amountsLeft } from '#core/geometry/reduce/left';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { facetCount } from '#core/geometry/solids/facets';
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
  if (way === 'envelope') return envelopeAround(context, given, choices.standOff);
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

/** Where that is not said, and the original is lighter, an envelope may stand off by so many times more, so often. */
const FURTHER = 1.5;
const MOST_TRIES = 4;
/** As many faces has a box whose edges and corners are cut off: no envelope is worth less. */
const FEW_FACES = 26;

/** An envelope; unless it is said how far it may stand off, one that is lighter than what it is around. */
async function envelopeAround(context: PlanContext, given: ToSeal, asked: number | null): Promise<Sealed> {
  if (asked !== null) return sealInEnvelope(context, given, asked);
  const { whole } = given.reduced;
  const original = amountsLeft(given.reduced).faces;
  for (let tried = 1, standOff = USUAL_STAND_OFF * diagonalOf(whole.box); ; tried++, standOff *= FURTHER) {
    const sealed = await sealInEnvelope(context, given, Number(standOff.toPrecision(2)));
    const faces = sealed.solids.reduce((sum, { closed }) => sum + facetCount(closed), 0);
    if (faces <= Math.max(original, FEW_FACES) || tried === MOST_TRIES) return sealed;
  }
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
