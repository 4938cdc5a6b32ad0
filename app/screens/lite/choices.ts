import { OPENING_KINDS } from '#core/geometry/fill/opening-kinds';
import { FORGETTABLE, type Forgettable, STANDARD_WORDS, type Step } from '#core/geometry/reduce/choices';
import { LiteChoices } from '#core/jobs/lite/choices';

/** Screws and shafts are less than half as long, of what they are thick; cables and springs more than that. */
const USUAL_SLENDER = 50;

/** What the page begins with: leaving out what is small and hidden, and filling; the rest is set up and off. */
export function firstChoices(): LiteChoices {
  return LiteChoices.parse({
    smallerThan: 2,
    standard: STANDARD_WORDS,
    hidden: true,
    fill: [...OPENING_KINDS],
    roundOut: true,
    sharpEdges: 2,
    joinFaces: true,
    forget: [...FORGETTABLE],
    slender: USUAL_SLENDER,
    off: ['standard', 'material', 'slender', 'round', 'forget'],
  });
}

/** The choices with a step switched on or off. */
export function switched(choices: LiteChoices, step: Step, on: boolean): LiteChoices {
  const off = choices.off.filter((other) => other !== step);
  if (!on) return { ...choices, off: [...off, step] };
  if (step === 'round' && !isCoarser(choices)) return { ...choices, off, roundOut: true };
  if (step === 'slender' && choices.slender === 0) return { ...choices, off, slender: USUAL_SLENDER };
  return { ...choices, off };
}

/** Whether a step is carried out. */
export function isOn(choices: LiteChoices, step: Step): boolean {
  if (step === 'forget' && choices.outside) return true;
  if (choices.off.includes(step)) return false;
  if (step === 'slender') return choices.slender > 0;
  return step !== 'round' || isCoarser(choices);
}

function isCoarser({ roundOut, sharpEdges, joinFaces, envelopes }: LiteChoices): boolean {
  return roundOut || sharpEdges !== null || joinFaces || envelopes !== null;
}

/** The choices of a preset, and what is for this assembly only as it was. */
export function byPreset(
  { keepFaces, without, keep, folder }: LiteChoices,
  preset: { readonly [name: string]: unknown },
): LiteChoices {
  return LiteChoices.parse({ ...preset, keepFaces, without, keep, folder });
}

/** What a person wishes for a component, whatever the steps say. */
export type Wish = 'leave out' | 'keep' | 'as the steps say';

/** Components left out by hand, kept whatever else is chosen, or left to the steps. */
export function byHand(choices: LiteChoices, keys: readonly string[], wish: Wish): LiteChoices {
  const named = new Set(keys);
  const rest = {
    without: choices.without.filter((key) => !named.has(key)),
    keep: choices.keep.filter((key) => !named.has(key)),
  };
  if (wish === 'leave out') rest.without.push(...keys);
  if (wish === 'keep') rest.keep.push(...keys);
  return { ...choices, ...rest };
}

/** The choices with one thing more that is forgotten: what was only set up and off before stays off. */
export function forgetting(choices: LiteChoices, what: Forgettable): LiteChoices {
  const isOff = choices.off.includes('forget');
  const forget = isOff ? [what] : [...new Set([...choices.forget, what])];
  return { ...switched(choices, 'forget', true), forget };
}
