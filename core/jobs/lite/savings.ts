import type { ReachOfWhole } from '#core/geometry/reach/classes';
import type { ReduceChoices, Step } from '#core/geometry/reduce/choices';
import { type Decision, decide, type Reason } from '#core/geometry/reduce/decide';
import { faceCount } from '#core/geometry/shape/solid-mesh';
import { meshOfBody, type Whole } from '#core/geometry/whole/whole';

/** What one step takes away. */
export interface StepSaving {
  step: Step;
  isOn: boolean;
  occurrences: number;
  bodies: number;
  faces: number;
}

/** What each step takes away: of one that is off, what it would. */
export function savings(
  whole: Whole,
  reach: ReachOfWhole,
  choices: ReduceChoices,
  decision: Decision,
  faces: { readonly fill: number; readonly round: number },
): StepSaving[] {
  const reasonsOf: { readonly [step in Exclude<Step, 'fill' | 'round' | 'forget'>]: readonly Reason[] } = {
    size: ['size'],
    standard: ['standard'],
    material: ['material'],
    slender: ['slender'],
    hand: ['hand'],
    hidden: ['hidden', 'seen'],
  };
  const steps = Object.entries(reasonsOf).map(([name, reasons]): StepSaving => {
    const step = name as keyof typeof reasonsOf;
    const isOn = !choices.off.includes(step);
    const off = choices.off.filter((other) => other !== step);
    const made = isOn ? decision : decide(whole, reach, { ...choices, off });
    const saving = { step, isOn, occurrences: 0, bodies: 0, faces: 0 };
    for (const occurrence of whole.occurrences) {
      const gone = occurrence.bodies.filter((n) => reasons.includes(made.bodies[n]!));
      if (gone.length === occurrence.bodies.length) saving.occurrences++;
      saving.bodies += gone.length;
      for (const n of gone) saving.faces += faceCount(meshOfBody(whole, n));
    }
    return saving;
  });
  const others = { ...faces, forget: 0 };
  return [
    ...steps,
    ...(['fill', 'round', 'forget'] as const).map((step) => ({
      step,
      isOn: !choices.off.includes(step),
      occurrences: 0,
      bodies: 0,
      faces: others[step],
    })),
  ];
}
