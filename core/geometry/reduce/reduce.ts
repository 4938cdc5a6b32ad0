import { createHash } from 'node:crypto';
import { openPart } from '#core/geometry/bodies/open-part';
import type { SourcePart } from '#core/geometry/bodies/source-part';
import { everythingReached, type ReachOfWhole } from '#core/geometry/reach/classes';
import type { Sunk } from '#core/geometry/solids/sunk';
import type { Whole } from '#core/geometry/whole/whole';
import type { PlanContext } from '#core/planning';
import { Refusal } from '#core/refusal';
import type { ReduceChoices } from './choices';
import { coarsenLeft, coarserIn } from './coarser-bodies';
import { bodiesLeft, decide, gapOf } from './decide';
import { envelopeLeft, isEnveloping } from './envelope-bodies';
import { fillLeft, type MayFill } from './fill-left';
import { openingKey } from './filled-space';
import type { Left, RemadeBody } from './left';
import { reachAfter } from './reach-after';
import { reachedOpenings } from './reached-openings';
import { reachOfWhole, versionsBelow, wholeOf } from './read-whole';
import type { ReducedWhole } from './reduced-whole';
import { isRoundingOut, roundOutLeft } from './rounded-bodies';
import { sunkBodies } from './sunk-bodies';
import { trimBodies } from './trimmed-bodies';
import type { ReducedPart } from './write-reduced';

/**
 * Leaves out what goes, and fills what is filled.
 * @throws Refusal for a file without bodies, and where nothing would be left
 */
export async function reduceWhole(
  context: PlanContext,
  root: string,
  choices: ReduceChoices,
): Promise<ReducedWhole> {
  const whole = await wholeOf(context, root);
  const gap = gapOf(choices, whole);
  // Rolling a ball around it takes seconds.
  const isAsked = choices.hidden || choices.fillHidden;
  const reach = isAsked ? await reachOfWhole(context, whole, gap) : everythingReached(whole);
  warnOfMissing(context, whole);
  const open = new Set<string>();
  let reachLeft = reach;
  let hasSettled = false;
  for (;;) {
    const given = await reduceGiven(
      context,
      { whole, reach, reachLeft, gap },
      choices,
      (shape, { faces }) => !open.has(openingKey(shape, faces)),
    );
    const reduced = hasSettled ? await madeCoarser(context, given, choices) : given;
    const reached = choices.fillHidden ? await reachedOpenings(reduced, context.progress) : [];
    const before = open.size;
    for (const key of reached) open.add(key);
    // Where one stays open, those inside it may be filled, and what stood behind it is reached again.
    if (open.size > before) {
      reachLeft = reach;
      continue;
    }
    const mayChange = isAsked && (reduced.filled.size > 0 || reduced.remade.size > 0 || choices.cutEnds);
    const once = mayChange ? await onceFilled(context, reduced, choices) : null;
    if (once && !isSameReach(once.reach, reachLeft)) {
      reachLeft = once.reach;
      continue;
    }
    // What stays is made coarser once it is known; what stands in rings and slots that were filled is out of reach then.
    if (!hasSettled && (isEnveloping(choices) || isRoundingOut(choices) || coarserIn(choices))) {
      hasSettled = true;
      continue;
    }
    // Of what lies in an envelope nothing can be told.
    if (!choices.cutEnds || isEnveloping(choices)) return reduced;
    const sunk = once?.sunk ?? (await sunkBodies(reduced, 'all'));
    return withRemade(reduced, await trimBodies(context, reduced, choices, sunk));
  }
}

/** What is left, made coarser: first in its text, then rings by the kernel; or each body in an envelope. */
export async function madeCoarser(
  context: PlanContext,
  given: ReducedWhole,
  choices: ReduceChoices,
): Promise<ReducedWhole> {
  if (isEnveloping(choices)) return withRemade(given, await envelopeLeft(context, given, choices));
  const coarser = withRemade(given, await coarsenLeft(context, given, choices));
  return isRoundingOut(choices)
    ? withRemade(coarser, await roundOutLeft(context, coarser, choices))
    : coarser;
}

/** What is left, some of its bodies made anew. */
function withRemade(reduced: ReducedWhole, more: ReadonlyMap<number, RemadeBody>): ReducedWhole {
  if (more.size === 0) return reduced;
  const remade = new Map([...reduced.remade, ...more]);
  return { ...reduced, remade, parts: partsLeft({ ...reduced, remade }) };
}

/** Names what is left of a whole as it is in its files now: what is left out, what is filled, what is cut off. @param more what else counts */
export function keyOfLeft(
  context: PlanContext,
  { whole, decision, filled, remade, gap }: Left & { gap: number },
  more: unknown = null,
): string {
  const openings = [...filled].map(([path, { bodies }]) => [
    path,
    [...bodies].map(([body, own]) => [body, own.openings.map(({ faces }) => faces[0])]),
  ]);
  const cut = [...remade].map(([n, { volume }]) => [n, volume]);
  const digest = createHash('sha256')
    .update(JSON.stringify([decision.bodies, openings, cut, more]))
    .digest('hex');
  return `${gap} ${versionsBelow(context, whole.root)} ${digest}`;
}

/**
 * What becomes of a whole once openings are closed: what stood behind them is out of reach, and so is what lies in material that was filled in;
 * where ends are cut off, in any other body. Remembered by what is left.
 * @returns the reach, and what lies in others, in part at least
 */
function onceFilled(
  context: PlanContext,
  reduced: ReducedWhole,
  { cutEnds }: Pick<ReduceChoices, 'cutEnds'>,
): Promise<{ reach: ReachOfWhole; sunk: ReadonlyMap<number, Sunk> }> {
  const classes = reduced.reachLeft.bodies.map((body) => `${body.class}${body.faces}`);
  const key = keyOfLeft(context, reduced, [classes, cutEnds]);
  return context.remember(`once filled ${key}`, async () => {
    const reach = await reachAfter(reduced, context.progress);
    const sunk = await sunkBodies(reduced, cutEnds ? 'all' : 'filled');
    for (const [n, { outside }] of sunk)
      if (outside === 0) reach.bodies[n] = { class: 'neither', faces: 0, share: 0, from: null };
    return { reach, sunk };
  });
}

function isSameReach(a: ReachOfWhole, b: ReachOfWhole): boolean {
  return (
    a.bodies.every((body, n) => body.class === b.bodies[n]!.class) &&
    a.reached.faces.every((faces, n) => Buffer.compare(faces, b.reached.faces[n]!) === 0)
  );
}

export function warnOfMissing({ draft }: PlanContext, whole: Whole): void {
  for (const { written, holder } of whole.missing.slice(0, 3))
    draft.warn(`${holder} places ${written}, which is not there: what is made here goes without it.`);
}

/** A whole that was read, or a part of one. */
type Given = Pick<ReducedWhole, 'whole' | 'reach' | 'gap'> & Partial<Pick<ReducedWhole, 'reachLeft'>>;

/** The same for what is given, once. */
export async function reduceGiven(
  context: PlanContext,
  { whole, reach, reachLeft = reach, gap }: Given,
  choices: ReduceChoices,
  mayFill: MayFill = () => true,
): Promise<ReducedWhole> {
  // 1. What is left out.
  const decision = decide(whole, reachLeft, choices);
  const staying = bodiesLeft(decision);
  if (staying.length === 0)
    throw new Refusal('Nothing would be left. Leave out less, or protect what must stay.');

  // 2. What is filled.
  const filling = await fillLeft(context, { whole, reach: reachLeft }, staying, choices, mayFill);
  const { filled, openings } = filling;

  const originals = new Map<string, SourcePart>();
  for (const path of openings.keys()) originals.set(path, (await openPart(context, path)).part);
  const left = { whole, decision, filled, remade: new Map(), originals };
  return { ...left, ...filling, gap, reach, reachLeft, parts: partsLeft(left) };
}

/**
 * Bodies that stay, as parts: the same bodies of the same product are one part, wherever it stands. What was cut off is a part of its own.
 */
function partsLeft({
  whole,
  decision,
  filled,
  remade,
  originals,
}: Left & Pick<ReducedWhole, 'originals'>): ReducedPart[] {
  const parts = new Map<string, ReducedPart>();
  const add = (
    key: string,
    part: Omit<ReducedPart, 'placings'>,
    placing: ReducedPart['placings'][number],
  ) => {
    const known = parts.get(key);
    if (known) known.placings.push(placing);
    else parts.set(key, { ...part, placings: [placing] });
  };
  const numbers = new Map<RemadeBody['source'], number>();
  for (const { name, place, placement, bodies: own } of whole.occurrences) {
    const left = own.filter((n) => decision.bodies[n] === null);
    const members = left.filter((n) => !remade.has(n));
    const bodies = members.map((n) => whole.shapes[whole.bodies[n]!.shape]!.body.id);
    const { path, product } = place;
    if (bodies.length > 0) {
      const source = filled.get(path)?.source ?? originals.get(path)!;
      add(
        `${path} ${product.definition} ${bodies.join(' ')}`,
        { source, product, bodies },
        { name, placement, members },
      );
    }
    for (const n of left) {
      const source = remade.get(n)?.source;
      if (!source) continue;
      if (!numbers.has(source)) numbers.set(source, numbers.size);
      const { body } = whole.shapes[whole.bodies[n]!.shape]!;
      const pieces = source.bodies.map((piece) => ({ ...piece, colour: body.colour }));
      add(
        `remade ${numbers.get(source)} ${path} ${product.definition}`,
        { source, product: { ...product, bodies: pieces }, bodies: pieces.map(({ id }) => id) },
        { name, placement: whole.bodies[n]!.placement, members: [n] },
      );
    }
  }
  return [...parts.values()];
}
