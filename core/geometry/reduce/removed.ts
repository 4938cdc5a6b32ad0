import type { OpeningKind } from '#core/geometry/fill/opening-kinds';
import type { Reason } from './decide';
import type { Left } from './left';

/** What was left out of a whole, by the reason, and what was filled in it. */
export interface Removed {
  /** Keys of occurrences; of single bodies with their names. */
  bySize: string[];
  standard: string[];
  material: string[];
  slender: string[];
  hand: string[];
  hidden: string[];
  seen: string[];
  /** Of which ends were cut off that lay inside. */
  cut: string[];
  /** Of which teeth, threads or fins became plain rings, and how deep they were, mm. */
  rounded: { key: string; depth: number }[];
  /** Of which rounds and bevels became sharp edges, and how far these lie off them at most, mm. */
  sharpened: { key: string; off: number }[];
  /** In whose place there is an envelope. */
  enveloped: string[];
  /** Faces that became one with others; as often as they are placed. */
  joined: number;
  /** In different parts, each counted once. */
  slots: number;
  holes: number;
  pockets: number;
  voids: number;
}

const LISTS: {
  readonly [reason in Reason]: 'bySize' | 'standard' | 'material' | 'slender' | 'hand' | 'hidden' | 'seen';
} = {
  size: 'bySize',
  standard: 'standard',
  material: 'material',
  slender: 'slender',
  hand: 'hand',
  hidden: 'hidden',
  seen: 'seen',
};

/** What a decision and filling take out of a whole. */
export function removedFrom({ whole, decision: { bodies }, filled, remade }: Left): Removed {
  const removed: Removed = {
    bySize: [],
    standard: [],
    material: [],
    slender: [],
    hand: [],
    hidden: [],
    seen: [],
    cut: [],
    rounded: [],
    sharpened: [],
    enveloped: [],
    joined: 0,
    slots: 0,
    holes: 0,
    pockets: 0,
    voids: 0,
  };
  for (const { key, bodies: own } of whole.occurrences) {
    const reasons = own.map((n) => bodies[n]);
    const [first] = reasons;
    const made = own.flatMap((n) => remade.get(n) ?? []);
    if (made.some(({ isCut }) => isCut)) removed.cut.push(key);
    const depth = made.reduce((most, { rounded }) => Math.max(most, rounded), 0);
    if (depth > 0) removed.rounded.push({ key, depth });
    const off = made.reduce((most, { coarser }) => Math.max(most, coarser?.off ?? 0), 0);
    if (off > 0) removed.sharpened.push({ key, off });
    if (made.some(({ isEnvelope }) => isEnvelope)) removed.enveloped.push(key);
    removed.joined += made.reduce((sum, { coarser }) => sum + (coarser?.joined ?? 0), 0);
    const isWhole = reasons.every((reason) => reason === first);
    if (isWhole && first) removed[LISTS[first]].push(key);
    else
      for (const [at, reason] of reasons.entries()) {
        const { body } = whole.shapes[whole.bodies[own[at]!]!.shape]!;
        if (reason) removed[LISTS[reason]].push(`${key} / ${body.name || `#${body.id}`}`);
      }
  }
  const counters: { readonly [kind in OpeningKind]: 'holes' | 'pockets' | 'voids' } = {
    hole: 'holes',
    counterbore: 'holes',
    pocket: 'pockets',
    void: 'voids',
  };
  for (const part of filled.values())
    for (const { openings } of part.bodies.values())
      for (const { kind } of openings) removed[counters[kind]]++;
  for (const { coarser } of new Set(remade.values())) removed.slots += coarser?.slots ?? 0;
  return removed;
}
