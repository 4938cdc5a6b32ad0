import { baseName, stemOf } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { NO_TIME } from '#core/files/part21/write';
import type { FillKind } from '#core/geometry/fill/opening-kinds';
import { innerFaces, type NamedMesh } from '#core/geometry/leaks/inner-faces';
import { type Leak, leaksIn } from '#core/geometry/leaks/leaks';
import type { Forgettable } from '#core/geometry/reduce/choices';
import { type CouldBe, couldBe } from '#core/geometry/reduce/could-be';
import { isEnveloping } from '#core/geometry/reduce/envelope-bodies';
import { keptFacesNow, withMountingFaces } from '#core/geometry/reduce/kept-faces';
import { amountsLeft, meshLeft, volumesLeft, volumesOf } from '#core/geometry/reduce/left';
import { linkTies, newFileOf, sourcesOf, tiesTo } from '#core/geometry/reduce/new-file';
import { keyOfLeft, reduceWhole } from '#core/geometry/reduce/reduce';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { rememberOutside } from '#core/geometry/reduce/remember-outside';
import { removedFrom } from '#core/geometry/reduce/removed';
import {
  amountsBefore,
  boxesOf,
  deviationAfter,
  keptFaceReports,
  madeReport,
  type ReductionReport,
} from '#core/geometry/reduce/report';
import { writeReduced } from '#core/geometry/reduce/write-reduced';
import { faceCount } from '#core/geometry/shape/solid-mesh';
import { groupBy } from '#core/multimap';
import { type PlanContext, timeStampOf } from '#core/planning';
import type { Recipe } from '#core/product/source/memory';
import { type FoundWithin, findWithin } from './budget';
import { forgottenIn, type LiteChoices, recipeOf } from './choices';
import { type StepSaving, savings } from './savings';

/** A lite model that could be made, with all that its page shows. */
export interface LiteOutline extends ReducedWhole {
  report: ReductionReport;
  steps: StepSaving[];
  /** Path of the new file. */
  file: string;
  forgotten: ReadonlySet<Forgettable>;
  could: CouldBe;
  /** What was found for a budget. */
  found: FoundWithin | null;
}

/**
 * Plans a lite model on the draft: one new file. With a budget, by the choices that were found for it.
 * @throws Refusal for a file without bodies, and where nothing would be left
 */
export async function planLite(context: PlanContext, root: string, asked: LiteChoices): Promise<LiteOutline> {
  const { budget } = asked;
  if (!budget) return { ...(await makeLite(context, root, asked)), found: null };
  const found = await findWithin(context, root, asked, budget, async (own, choices) => {
    const { report } = await makeLite(own, root, choices);
    return report.after;
  });
  return { ...(await makeLite(context, root, found.choices)), found };
}

async function makeLite(
  context: PlanContext,
  root: string,
  asked: LiteChoices,
): Promise<Omit<LiteOutline, 'found'>> {
  const { draft, project, now } = context;
  const chosen = {
    ...asked,
    keepFaces: await keptFacesNow(context, root, asked.keepFaces, context.remadeFile !== undefined),
    cutEnds: asked.cutEnds || asked.outside,
  };
  // What it is probably mounted by is looked for anew whenever it is made.
  const choices = { ...chosen, keepFaces: await withMountingFaces(context, root, chosen) };
  const reduced = await reduceWhole(context, root, choices);
  const { whole, reach, decision, originals, parts } = reduced;
  const occurrences = parts.reduce((sum, { placings }) => sum + placings.length, 0);

  // 1. The file.
  const { name, file } = newFileOf(context, root, choices);
  const forget = forgottenIn(choices);
  const recipe = recipeOf(chosen);
  const sources = sourcesOf(root, originals.keys());
  const isTied = choices.tie && !choices.outside;
  const keptByFile = groupBy(choices.keepFaces, (kept) => kept.file);
  const write = (recipe: Recipe) =>
    writeReduced(
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
  const report: ReductionReport = {
    before: amountsBefore(project, whole),
    after: {
      ...left,
      occurrences: isOnePart ? 1 : occurrences,
      distinctParts: isOnePart ? 1 : parts.length,
      bytes: bare.bytes.length,
    },
    box: boxesOf(reduced),
    volume: await volumes(context, reduced),
    kept: keptFaceReports(choices.keepFaces, files21, bare, result),
    deviation: deviationAfter(reduced),
    removed: removedFrom(reduced),
    leaks: [...leaksIn(result, name), ...(await innerFacesLeft(context, reduced, forget))],
  };
  const remembered = { ...recipe, report: madeReport(report) };
  const { bytes } = isTied ? write(remembered) : bare;
  report.after.bytes = bytes.length;
  const could = await couldBe(context, reduced, choices);
  draft.write(file, bytes);
  if (isTied) linkTies(context, file, sources);
  else if (choices.tie) await rememberOutside(context, file, remembered, sources);
  return {
    ...reduced,
    report,
    steps: savings(whole, reach, choices, decision, {
      fill: reduced.holeFaces + (choices.fill.includes('slot') ? facesOf(could, 'slot') : 0),
      round: isEnveloping(choices) ? facesOfEnvelopes(reduced) : coarserFaces(could, choices),
    }),
    could,
    file,
    forgotten: forget,
  };
}

/** Faces that go, or would, with what is made coarser. */
function coarserFaces(
  { rings, edges, joined }: CouldBe,
  { roundOut, joinFaces }: Pick<LiteChoices, 'roundOut' | 'joinFaces'>,
): number {
  return (roundOut ? rings : 0) + edges + (joinFaces ? joined : 0);
}

/** Faces that envelopes have less than what is in them. */
function facesOfEnvelopes({ remade, ...reduced }: ReducedWhole): number {
  const meshOf = meshLeft({ ...reduced, remade: new Map() });
  return [...remade].reduce(
    (sum, [n, { isEnvelope, geometry }]) =>
      isEnvelope ? sum + faceCount(meshOf(n)) - faceCount(geometry) : sum,
    0,
  );
}

function facesOf({ fill }: CouldBe, kind: FillKind): number {
  return fill.find((one) => one.kind === kind)?.faces ?? 0;
}

async function volumes(context: PlanContext, reduced: ReducedWhole): Promise<ReductionReport['volume']> {
  const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);
  return {
    before: sum(await volumesOf(context, reduced.whole)),
    after: sum(await volumesLeft(context, reduced)),
  };
}

/** Faces of what is left that nobody reaches. Remembered: to type a name moves nothing. */
function innerFacesLeft(
  context: PlanContext,
  reduced: ReducedWhole,
  forget: ReadonlySet<Forgettable>,
): Promise<Leak[]> {
  const key = `inner faces ${keyOfLeft(context, reduced, forget.has('names'))}`;
  return context.remember(key, () => innerFaces(namedMeshes(reduced, forget), reduced.gap, context.progress));
}

/** What is left, each body by the name that its part has in the file. */
function namedMeshes(reduced: ReducedWhole, forget: ReadonlySet<Forgettable>): NamedMesh[] {
  const meshOf = meshLeft(reduced);
  return reduced.parts.flatMap(({ product, placings }, part) =>
    placings.flatMap(({ members }) =>
      members.flatMap((n) => {
        const mesh = meshOf(n);
        const name = forget.has('names') ? `part ${part + 1}` : product.name;
        return mesh ? [{ name, mesh, placement: reduced.whole.bodies[n]!.placement }] : [];
      }),
    ),
  );
}
