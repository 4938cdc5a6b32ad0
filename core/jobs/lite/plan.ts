import type { Recipe } from '#core/files/formats/source-memory';
import { baseName, stemOf } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { NO_TIME } from '#core/files/part21/write';
import { openPart } from '#core/geometry/bodies/open-part';
import type { SourcePart } from '#core/geometry/bodies/source-part';
import type { Opening } from '#core/geometry/fill/openings';
import { everythingReached, type ReachOfWhole, reachOf } from '#core/geometry/reach/classes';
import { faceCount } from '#core/geometry/shape/solid-mesh';
import { meshOfBody, readWhole, type Whole } from '#core/geometry/whole/whole';
import { groupBy } from '#core/multimap';
import { type PlanContext, timeStampOf } from '#core/operation';
import { placedBelow } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { type Forgettable, forgottenIn, type LiteChoices, recipeOf, type Step } from './choices';
import { bodiesLeft, type Decision, decide, gapOf, type Reason } from './decide';
import {
  chosenOpenings,
  type FilledPart,
  fillPart,
  openingsOf,
  type PartWithOpenings,
  reachedIn,
} from './filled-parts';
import { openingKey } from './filled-space';
import { keptFacesNow } from './kept-faces';
import { linkTies, newFileOf, sourcesOf, tiesTo } from './new-file';
import { reachedOpenings } from './reached-openings';
import type { ReducedWhole } from './reduced-whole';
import { rememberOutside } from './remember-outside';
import { removedFrom } from './removed';
import {
  amountsBefore,
  amountsLeft,
  boxesOf,
  deviationAfter,
  filledBodies,
  keptFaceReports,
  type LiteReport,
  leaksOf,
  madeReport,
  volumesOf,
} from './report';
import { type LitePart, writeLite } from './write-lite';

/** What one step takes away. */
export interface StepSaving {
  step: Step;
  isOn: boolean;
  occurrences: number;
  bodies: number;
  faces: number;
}

/** A lite model that could be made, with all that its page shows. */
export interface LiteOutline extends ReducedWhole {
  report: LiteReport;
  steps: StepSaving[];
  /** Path of the new file. */
  file: string;
  forgotten: ReadonlySet<Forgettable>;
}

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
  choices: LiteChoices,
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
  choices: LiteChoices,
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
  const odd: LiteOutline['odd'] = [];
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

/**
 * Plans a lite model on the draft: one new file.
 * @param again a lite model that is there, and is made again by its recipe
 * @throws Refusal for a file without bodies, and where nothing would be left
 */
export async function planLite(
  context: PlanContext,
  root: string,
  given: LiteChoices,
  again?: string,
): Promise<LiteOutline> {
  const { draft, project, now } = context;
  const choices = {
    ...given,
    keepFaces: await keptFacesNow(context, root, given.keepFaces, again !== undefined),
  };
  const reduced = await reduceWhole(context, root, choices);
  const { whole, reach, decision, filled, originals, parts } = reduced;

  // 1. The file.
  const { name, file } = newFileOf(context, root, choices, again);
  const forget = forgottenIn(choices);
  const recipe = recipeOf(choices);
  const sources = sourcesOf(root, originals.keys());
  const isTied = choices.tie && !choices.outside;
  const keptByFile = groupBy(choices.keepFaces, (kept) => kept.file);
  const write = (recipe: Recipe) =>
    writeLite(
      {
        id: forget.has('ids') ? name : `${whole.top.id || stemOf(root)}-L`,
        name,
        fileName: baseName(file),
        timeStamp: choices.outside ? NO_TIME : timeStampOf(now),
        form: choices.form,
        forget,
        parts,
        ties: isTied ? tiesTo(context, file, sources, recipe) : [],
      },
      new Map([...keptByFile].map(([path, kept]) => [path, kept.map(({ face }) => face)])),
    );
  // 2. What it has become. The report goes into the file that it is about: that is written once more.
  const bare = write(recipe);
  const result = Part21File.read(bare.bytes);
  const left = amountsLeft(reduced);
  const isOnePart = choices.form === 'part';
  const files21 = new Map([...originals].map(([path, { file: one }]) => [path, one]));
  const report: LiteReport = {
    before: amountsBefore(project, whole),
    after: {
      ...left,
      occurrences: isOnePart ? 1 : left.occurrences,
      distinctParts: isOnePart ? 1 : parts.length,
      bytes: bare.bytes.length,
    },
    box: boxesOf(reduced),
    volume: await volumes(context, reduced),
    kept: keptFaceReports(choices.keepFaces, files21, bare, result),
    deviation: deviationAfter(reach, reduced),
    removed: removedFrom(whole, decision, filled),
    leaks: leaksOf(reach, reduced, result, name),
  };
  const told = { ...recipe, report: madeReport(report) };
  const { bytes } = isTied ? write(told) : bare;
  report.after.bytes = bytes.length;
  draft.write(file, bytes);
  if (isTied) linkTies(context, file, sources);
  else if (choices.tie) await rememberOutside(context, file, told, sources);
  return {
    ...reduced,
    report,
    steps: savings(whole, reach, choices, decision, reduced.holeFaces),
    file,
    forgotten: forget,
  };
}

/** Bodies that stay, as parts: the same bodies of the same product are one part, wherever it stands. */
function partsLeft(whole: Whole, { bodies }: Decision, sourceOf: (path: string) => SourcePart): LitePart[] {
  const parts = new Map<string, LitePart>();
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

async function volumes(
  context: PlanContext,
  { whole, decision, filled }: ReducedWhole,
): Promise<LiteReport['volume']> {
  const filledOf = filledBodies(whole, filled);
  const own = await volumesOf(context, whole);
  return {
    before: own.reduce((sum, volume) => sum + volume, 0),
    after: bodiesLeft(decision).reduce((sum, n) => sum + (filledOf(n)?.facts.volume ?? own[n]!), 0),
  };
}

/** What each step takes away: of one that is off, what it would. */
function savings(
  whole: Whole,
  reach: ReachOfWhole,
  choices: LiteChoices,
  decision: Decision,
  holeFaces: number,
): StepSaving[] {
  const reasonsOf: { readonly [step in Exclude<Step, 'fill' | 'forget'>]: readonly Reason[] } = {
    size: ['size'],
    standard: ['standard'],
    material: ['material'],
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
  const isFilling = !choices.off.includes('fill');
  return [
    ...steps,
    { step: 'fill', isOn: isFilling, occurrences: 0, bodies: 0, faces: holeFaces },
    { step: 'forget', isOn: !choices.off.includes('forget'), occurrences: 0, bodies: 0, faces: 0 },
  ];
}
