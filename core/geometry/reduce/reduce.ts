import { baseName } from '#core/files/links/paths';
import { openPart } from '#core/geometry/bodies/open-part';
import type { SourcePart } from '#core/geometry/bodies/source-part';
import type { Opening } from '#core/geometry/fill/openings';
import { everythingReached, type ReachOfWhole, reachOf } from '#core/geometry/reach/classes';
import { readWhole, type Whole } from '#core/geometry/whole/whole';
import type { PlanContext } from '#core/planning';
import { placedBelow } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { ReduceChoices } from './choices';
import { bodiesLeft, type Decision, decide, gapOf } from './decide';
import {
  chosenOpenings,
  type FilledPart,
  fillPart,
  openingsOf,
  type PartWithOpenings,
  reachedIn,
} from './filled-parts';
import { openingKey } from './filled-space';
import { reachedOpenings } from './reached-openings';
import type { ReducedWhole } from './reduced-whole';
import type { ReducedPart } from './write-reduced';

/** The whole below a file, with its meshes. Remembered until something in it changes. */
export function wholeOf(context: PlanContext, root: string): Promise<Whole> {
  for (const path of placedBelow(context.project, [root]))
    if (context.project.files.has(path)) context.draft.restOn(path);
  return context.remember(`whole ${versionsBelow(context, root)}`, () => readWhole(context, root), true);
}

function versionsBelow({ project }: PlanContext, root: string): string {
  return placedBelow(project, [root])
    .map((path) => `${path} ${project.files.get(path)?.sha256}`)
    .join(' ');
}

/** The reach of everything in a whole. Remembered by gap. */
export function reachOfWhole(context: PlanContext, whole: Whole, gap: number): Promise<ReachOfWhole> {
  return context.remember(`reach ${gap} ${versionsBelow(context, whole.root)}`, () =>
    reachOf(whole, gap, context.progress),
  );
}

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
  for (;;) {
    const reduced = await reduceGiven(
      context,
      { whole, reach, gap },
      choices,
      (shape, { faces }) => !open.has(openingKey(shape, faces)),
    );
    const reached = choices.fillHidden ? await reachedOpenings(reduced, context.progress) : [];
    const before = open.size;
    for (const key of reached) open.add(key);
    // Where one stays open, those inside it may be filled.
    if (open.size === before) return reduced;
  }
}

export function warnOfMissing({ draft }: PlanContext, whole: Whole): void {
  for (const { written, holder } of whole.missing.slice(0, 3))
    draft.warn(`${holder} places ${written}, which is not there: what is made here goes without it.`);
}

/** Whether an opening of a shape may be filled. */
export type MayFill = (shape: number, opening: Opening) => boolean;

/** The same for a whole that was read, or a part of one. */
export async function reduceGiven(
  context: PlanContext,
  { whole, reach, gap }: Pick<ReducedWhole, 'whole' | 'reach' | 'gap'>,
  choices: ReduceChoices,
  mayFill: MayFill = () => true,
): Promise<ReducedWhole> {
  // 1. What is left out.
  const decision = decide(whole, reach, choices);
  const left = bodiesLeft(decision);
  if (left.length === 0)
    throw new Refusal('Nothing would be left. Leave out less, or protect what must stay.');

  // 2. What is filled.
  const shapesLeft = new Set(left.map((n) => whole.bodies[n]!.shape));
  const filled = new Map<string, FilledPart>();
  const odd: ReducedWhole['odd'] = [];
  const fill = choices.off.includes('fill') ? [] : choices.fill;
  const isReached = reachedIn(whole, reach);
  const files = [...new Set([...shapesLeft].map((shape) => whole.shapes[shape]!.file))];
  const openings = new Map<string, PartWithOpenings>();
  let holeFaces = 0;
  for (const [n, file] of files.entries()) {
    await context.progress(`Filling ${baseName(file)}`, n, files.length);
    context.signal.throwIfAborted();
    const part = await openingsOf(context, file);
    openings.set(file, part);
    if (choices.fill.length === 0) continue;
    const keptFaces = new Set(choices.keepFaces.flatMap((kept) => (kept.file === file ? [kept.face] : [])));
    const wanted = new Map();
    for (const shape of shapesLeft) {
      const { body, file: own } = whole.shapes[shape]!;
      const found = own === file ? part.bodies.get(body.id) : undefined;
      if (own === file && part.odd.has(body.id))
        odd.push({ file, body: body.id, why: part.odd.get(body.id)! });
      if (!found) continue;
      const chosen = chosenOpenings(
        found,
        choices,
        keptFaces,
        (face) => isReached(shape, face),
        (opening) => mayFill(shape, opening),
      );
      const placings = left.filter((at) => whole.bodies[at]!.shape === shape).length;
      holeFaces += placings * chosen.reduce((sum, { faces }) => sum + faces.length, 0);
      if (chosen.length > 0) wanted.set(body.id, chosen);
    }
    if (fill.length > 0 && wanted.size > 0) filled.set(file, await fillPart(context, part, wanted));
  }

  const originals = new Map<string, SourcePart>();
  for (const path of files) originals.set(path, (await openPart(context, path)).part);
  const parts = partsLeft(whole, decision, (path) => filled.get(path)?.source ?? originals.get(path)!);
  return { whole, gap, reach, decision, filled, openings, originals, parts, odd, holeFaces };
}

/** Bodies that stay, as parts: the same bodies of the same product are one part, wherever it stands. */
function partsLeft(
  whole: Whole,
  { bodies }: Decision,
  sourceOf: (path: string) => SourcePart,
): ReducedPart[] {
  const parts = new Map<string, ReducedPart>();
  for (const { name, place, placement, bodies: own } of whole.occurrences) {
    const staying = own
      .filter((n) => bodies[n] === null)
      .map((n) => whole.shapes[whole.bodies[n]!.shape]!.body.id);
    if (staying.length === 0) continue;
    const key = `${place.path} ${place.product.definition} ${staying.join(' ')}`;
    const part = parts.get(key);
    const placing = { name, placement };
    if (part) part.placings.push(placing);
    else
      parts.set(key, {
        source: sourceOf(place.path),
        product: place.product,
        bodies: staying,
        placings: [placing],
      });
  }
  return [...parts.values()];
}
