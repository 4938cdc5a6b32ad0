import { OPENING_KINDS } from '#core/geometry/fill/opening-kinds';
import type { LeakKind } from '#core/geometry/leaks/leaks';
import { FORGETTABLE, type Forgettable } from '#core/geometry/reduce/choices';
import type { LiteChoices } from '#core/jobs/lite/choices';
import { forgetting, switched } from './choices';

/** What a button of the report chooses against what can still be told. */
export type Remedy = Forgettable | 'outside' | 'inside';

/** What helps against a leak, as a choice. */
export function remedyOf(kind: LeakKind): Remedy {
  if (kind === 'inner faces') return 'inside';
  if (kind === 'labels') return 'names';
  return FORGETTABLE.find((what) => what === kind) ?? 'outside';
}

export function remedyInWords(remedy: Remedy): string {
  if (remedy === 'outside') return 'Make it for outside';
  return remedy === 'inside' ? 'Close the inside' : 'Forget';
}

/** The choices with a remedy: against the inside everything that closes it. */
export function remedied(choices: LiteChoices, remedy: Remedy): LiteChoices {
  if (remedy === 'outside') return { ...choices, outside: true };
  if (remedy !== 'inside') return forgetting(choices, remedy);
  const on = switched(switched(choices, 'hidden', true), 'fill', true);
  return {
    ...on,
    hidden: true,
    seen: 'drop',
    fill: [...new Set([...choices.fill, ...OPENING_KINDS])],
    fillBelow: null,
    cutEnds: true,
  };
}

/** Whether a remedy would change nothing any more. */
export function isRemedied(choices: LiteChoices, remedy: Remedy): boolean {
  if (remedy === 'outside') return choices.outside;
  if (remedy !== 'inside') return false;
  const now = remedied(choices, remedy);
  return (
    choices.hidden &&
    choices.seen === 'drop' &&
    choices.fill.length === now.fill.length &&
    choices.fillBelow === null &&
    choices.off.length === now.off.length &&
    (choices.cutEnds || choices.outside)
  );
}
