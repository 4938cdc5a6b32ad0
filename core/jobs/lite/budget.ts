import { OPENING_KINDS } from '#core/geometry/fill/opening-kinds';
import type { ReachOfWhole } from '#core/geometry/reach/classes';
import { STANDARD_WORDS } from '#core/geometry/reduce/choices';
import { coarserInPart, type Reckoned } from '#core/geometry/reduce/coarser-bodies';
import { bodiesLeft, decide, gapOf } from '#core/geometry/reduce/decide';
import {
  chosenOpenings,
  openingsOfWhole,
  type PartWithOpenings,
  reachedIn,
} from '#core/geometry/reduce/filled-parts';
import { reachOfWhole, wholeOf } from '#core/geometry/reduce/read-whole';
import { isRoundingOut, toothingOf } from '#core/geometry/reduce/rounded-bodies';
import { faceCount, triangleCount } from '#core/geometry/shape/solid-mesh';
import type { Toothing } from '#core/geometry/toothing/toothing';
import { meshOfBody, type Whole } from '#core/geometry/whole/whole';
import { groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import { Draft } from '#core/project/change/draft';
import { refusalOf } from '#core/refusal';
import type { Budget, LiteChoices } from './choices';

/** How much a model comes to. */
export type Amount = Record<Budget['what'], number>;

/** Choices on the way to a budget, each step with all before it. */
export interface BudgetStep {
  words: string;
  choices: LiteChoices;
  /** As reckoned from text and meshes. */
  reckoned: Amount;
  /** As it really came out; null where that was not tried. */
  made: Amount | null;
}

/** What a search for a budget came to. */
export interface FoundWithin {
  budget: Budget;
  /** The mildest choices that reach it; where none do, those that come nearest. */
  choices: LiteChoices;
  isReached: boolean;
  steps: Pick<BudgetStep, 'words' | 'reckoned' | 'made'>[];
}

type Change = (choices: LiteChoices) => Partial<LiteChoices>;

const smallerThan = (percent: number): [words: string, change: Change] => [
  `leave out what is smaller than ${percent} % of the whole`,
  (choices) => ({
    smallerThan: Math.max(percent, isOff(choices, 'size') ? 0 : choices.smallerThan),
    off: without(choices, 'size'),
  }),
];

/** Rounds up to this radius are a detail, mm. */
const SHARP = 3;

/** With more made coarser; what was set up and switched off stays off. */
function coarser(choices: LiteChoices, more: Partial<LiteChoices>): Partial<LiteChoices> {
  const none: Partial<LiteChoices> = isOff(choices, 'round')
    ? { roundOut: false, sharpEdges: null, joinFaces: false, envelopes: null }
    : {};
  return { ...none, ...more, off: without(choices, 'round') };
}

/** What is tried, the mildest first: what nobody misses, then what is small, then what is seen. */
const WAYS: readonly [words: string, change: Change][] = [
  ['as it is chosen', () => ({})],
  [
    'leave out what cannot be touched from outside',
    (choices) => ({ hidden: true, off: without(choices, 'hidden') }),
  ],
  [
    'fill what cannot be touched from outside',
    (choices) =>
      choices.fill.length > 0 && !isOff(choices, 'fill')
        ? {}
        : { fill: [...OPENING_KINDS], fillHidden: true, fillBelow: null, off: without(choices, 'fill') },
  ],
  smallerThan(1),
  ['leave out what is only seen', () => ({ seen: 'drop' })],
  smallerThan(2),
  smallerThan(3),
  [
    'fill every hole and pocket',
    (choices) => ({
      fill: [...OPENING_KINDS],
      fillHidden: false,
      fillBelow: null,
      off: without(choices, 'fill'),
    }),
  ],
  ['make one face of faces in one surface', (choices) => coarser(choices, { joinFaces: true })],
  [
    'make sharp edges of rounds and bevels',
    (choices) => coarser(choices, { sharpEdges: Math.max(choices.sharpEdges ?? 0, SHARP) }),
  ],
  ['make plain rings of teeth, threads and fins', (choices) => coarser(choices, { roundOut: true })],
  [
    'leave out standard parts',
    (choices) => ({ standard: choices.standard || STANDARD_WORDS, off: without(choices, 'standard') }),
  ],
  ...[5, 7.5, 10, 15, 20, 30].map(smallerThan),
];

/** So many models are made on the way, at most: the middle of 18 steps is found with fewer. */
const MOST_MADE = 6;

/**
 * Finds the mildest choices by which a lite model comes to no more than a budget: steps are reckoned by what is known of text and meshes,
 * and models are made until it is known which is the first that is small enough.
 * @param make makes a model on a draft of its own. @returns how much it comes to
 */
export async function findWithin(
  context: PlanContext,
  root: string,
  asked: LiteChoices,
  budget: Budget,
  make: (context: PlanContext, choices: LiteChoices) => Promise<Amount>,
): Promise<FoundWithin> {
  const whole = await wholeOf(context, root);
  const reach = await reachOfWhole(context, whole, gapOf(asked, whole));
  const parts = await openingsOfWhole(context, whole);
  const toothing = await toothingOf(context, parts);
  const edges = Math.max(asked.sharpEdges ?? 0, SHARP);
  const coarserBodies = new Map<string, Map<number, Reckoned>>();
  for (const [path, part] of parts)
    coarserBodies.set(path, await coarserInPart(context, part, { edges, slots: null }));

  // 1. The steps, each on top of those before it.
  const steps: BudgetStep[] = [];
  let choices: LiteChoices = { ...asked, budget: null };
  for (const [words, change] of WAYS) {
    const next = { ...choices, ...change(choices) };
    if (steps.length > 0 && JSON.stringify(next) === JSON.stringify(choices)) continue;
    choices = next;
    steps.push({
      words,
      choices,
      reckoned: reckon(context, { whole, reach, parts, toothing, coarserBodies }, choices),
      made: null,
    });
  }

  // 2. Models: the first step that should be enough, then always the one in the middle of those that are in question.
  const { what, most } = budget;
  let [tooMuch, enough] = [-1, steps.length];
  const first = steps.findIndex(({ reckoned }) => reckoned[what] <= most);
  let at = first < 0 ? steps.length - 1 : first;
  for (let tried = 0; tooMuch + 1 < enough && tried < MOST_MADE; tried++) {
    const step = steps[at]!;
    context.signal.throwIfAborted();
    await context.progress(`Trying: ${step.words}`, tried, MOST_MADE);
    step.made = await madeOrNone(context, step.choices, make);
    if (step.made === null || step.made[what] <= most) enough = at;
    else tooMuch = at;
    at = Math.floor((tooMuch + enough) / 2);
  }
  const made = steps.flatMap((step) => (step.made ? [step] : []));
  const found = made.find(({ made: amount }) => amount![what] <= most);
  const best = found ?? made.sort((a, b) => a.made![what] - b.made![what])[0];
  return {
    budget,
    choices: best?.choices ?? { ...asked, budget: null },
    isReached: found !== undefined,
    steps: steps.map(({ words, reckoned, made }) => ({ words, reckoned, made })),
  };
}

/** Nothing that is tried stays on the draft. Where nothing would be left there is no model. */
async function madeOrNone(
  context: PlanContext,
  choices: LiteChoices,
  make: (context: PlanContext, choices: LiteChoices) => Promise<Amount>,
): Promise<Amount | null> {
  const { draft, project } = context;
  try {
    return await make(
      { ...context, draft: new Draft({ read: (path) => draft.read(path) }, project) },
      choices,
    );
  } catch (error) {
    if (refusalOf(error) === undefined) throw error;
    return null;
  }
}

/** Bytes that a placing takes in a file, about, and a file without parts. */
const [PLACING, FRAME] = [600, 1500];

/** How much a lite model would come to, without making it: what is left of faces, their triangles, and their part of the text. */
function reckon(
  { project }: Pick<PlanContext, 'project'>,
  {
    whole,
    reach,
    parts,
    toothing,
    coarserBodies,
  }: {
    whole: Whole;
    reach: ReachOfWhole;
    parts: ReadonlyMap<string, PartWithOpenings>;
    toothing: ReadonlyMap<string, ReadonlyMap<number, readonly Toothing[]>>;
    coarserBodies: ReadonlyMap<string, ReadonlyMap<number, Reckoned>>;
  },
  choices: LiteChoices,
): Amount {
  const isReached = reachedIn(whole, reach);
  const left = bodiesLeft(decide(whole, reach, choices));
  const isFilling = choices.fill.length > 0 && !isOff(choices, 'fill');
  const amount: Amount = { faces: 0, triangles: 0, bytes: FRAME };
  const facesIn = new Map<string, number>();
  for (const { file, mesh } of whole.shapes) facesIn.set(file, (facesIn.get(file) ?? 0) + faceCount(mesh));
  for (const [shape, placings] of groupBy(left, (n) => whole.bodies[n]!.shape)) {
    const { file, body } = whole.shapes[shape]!;
    const mesh = meshOfBody(whole, placings[0]!);
    let [faces, triangles] = [faceCount(mesh), triangleCount(mesh)];
    const own = parts.get(file)?.bodies.get(body.id);
    const kept = new Set(choices.keepFaces.flatMap((face) => (face.file === file ? [face.face] : [])));
    const triangleCountOf = (face: number) => (mesh?.faceGroups[2 * face + 1] ?? 0) / 3;
    if (isRoundingOut(choices) && kept.size === 0)
      for (const ring of toothing.get(file)?.get(body.id) ?? []) {
        faces -= ring.faces.length - 1;
        for (const face of ring.faces) triangles -= triangleCountOf(face);
      }
    if (isFilling && own && mesh) {
      const chosen = chosenOpenings(
        own,
        choices,
        kept,
        (face) => isReached(shape, face),
        () => true,
      );
      for (const { faces: gone } of chosen) {
        faces -= gone.length;
        for (const face of gone) triangles -= triangleCountOf(face);
      }
    }
    const reckoned = coarserBodies.get(file)?.get(body.id);
    if (reckoned && !isOff(choices, 'round')) {
      const gone =
        (choices.sharpEdges === null ? 0 : reckoned.edges) + (choices.joinFaces ? reckoned.joined : 0);
      triangles *= 1 - gone / Math.max(faceCount(mesh), 1);
      faces -= gone;
    }
    amount.faces += faces * placings.length;
    amount.triangles += triangles * placings.length;
    amount.bytes +=
      ((project.files.get(file)?.bytes ?? 0) * faces) / Math.max(facesIn.get(file) ?? 0, 1) +
      PLACING * placings.length;
  }
  return { ...amount, triangles: Math.round(amount.triangles), bytes: Math.round(amount.bytes) };
}

function isOff({ off }: Pick<LiteChoices, 'off'>, step: LiteChoices['off'][number]): boolean {
  return off.includes(step);
}

function without({ off }: Pick<LiteChoices, 'off'>, step: LiteChoices['off'][number]): LiteChoices['off'] {
  return off.filter((other) => other !== step);
}
