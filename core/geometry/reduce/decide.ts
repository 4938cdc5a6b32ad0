import type { ReachOfWhole } from '#core/geometry/reach/classes';
import { slendernessOf } from '#core/geometry/shape/slenderness';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { boxOfBodies, meshOfBody, sizeOfOccurrence, type Whole } from '#core/geometry/whole/whole';
import { diagonalOf } from '#core/product/box';
import type { ReduceChoices, Step } from './choices';

/** Why a component, or a body of one, is left out. */
export const REASONS = ['size', 'standard', 'material', 'slender', 'hand', 'hidden', 'seen'] as const;
export type Reason = (typeof REASONS)[number];

/** What becomes of one component. */
export interface ComponentFate {
  /** Null for one that stays, at least in part. */
  reason: Reason | null;
  /** Diagonal of its box in percent of the whole's. */
  percent: number;
  /** It holds a face that shall stay, or was kept by hand. */
  isProtected: boolean;
}

/** What stays of a whole. */
export interface Decision {
  components: ComponentFate[];
  /** By body of the whole: why it is left out, null where it stays. */
  bodies: (Reason | null)[];
}

/** The gap that is meant where none is chosen: part of the whole's diagonal. */
const USUAL_GAP = 0.02;

/** mm. */
export function gapOf({ gap }: Pick<ReduceChoices, 'gap'>, whole: Whole): number {
  return gap ?? Number((USUAL_GAP * diagonalOf(whole.box)).toPrecision(3));
}

/**
 * Decides what is left out, step by step: by size, by name, by material, by how slender it is, by hand, then what nobody comes to from outside, component by
 * component and then body by body. What holds a protected face stays.
 */
export function decide(whole: Whole, reach: ReachOfWhole, choices: ReduceChoices): Decision {
  const diagonal = diagonalOf(whole.box);
  const isOn = (step: Step) => !choices.off.includes(step);
  const words = (isOn('standard') ? choices.standard : '')
    .split(',')
    .map((word) => word.trim().toLowerCase())
    .filter((word) => word !== '');
  const without = new Set(isOn('hand') ? choices.without : []);
  const keep = new Set(choices.keep);
  const protectedFiles = protectedBodies(whole, choices);
  const isSlender = (body: number): boolean => {
    if (choices.slender === 0 || !isOn('slender')) return false;
    const mesh = meshOfBody(whole, body);
    return mesh !== undefined && slendernessOf(finestMesh(mesh)) > choices.slender;
  };
  const bodies: (Reason | null)[] = whole.bodies.map(() => null);
  const components = whole.occurrences.map((occurrence, n): ComponentFate => {
    const { key, name, place } = occurrence;
    const percent = diagonal === 0 ? 0 : (100 * sizeOfOccurrence(whole, n)) / diagonal;
    const isProtected =
      keep.has(key) || occurrence.bodies.some((body) => protectedFiles.has(whole.bodies[body]!.shape));
    const fate = (reason: Reason | null) => {
      if (reason !== null) for (const body of occurrence.bodies) bodies[body] = reason;
      return { reason, percent, isProtected };
    };
    if (isProtected) return fate(null);
    if (without.has(key)) return fate('hand');
    if (isOn('size') && percent < choices.smallerThan) return fate('size');
    const called = `${name} ${place.product.name}`.toLowerCase();
    if (words.some((word) => holdsWord(called, word))) return fate('standard');
    if (isOn('material') && place.product.material && choices.materials.includes(place.product.material))
      return fate('material');
    const slender = occurrence.bodies.filter(isSlender);
    if (slender.length > 0 && slender.length === occurrence.bodies.length) return fate('slender');
    for (const body of slender) bodies[body] = 'slender';
    // In a part of many bodies each is looked at, too.
    if (isOn('size') && occurrence.bodies.length > 1 && diagonal > 0)
      for (const body of occurrence.bodies)
        if ((100 * diagonalOf(boxOfBodies(whole, [body]))) / diagonal < choices.smallerThan)
          bodies[body] = 'size';
    if (!choices.hidden || !isOn('hidden')) return fate(null);
    const classes = occurrence.bodies.map((body) => reach.bodies[body]!.class);
    if (classes.every((reach) => reach === 'neither')) return fate('hidden');
    if (choices.seen === 'drop' && classes.every((reach) => reach !== 'reached')) return fate('seen');
    for (const [at, body] of occurrence.bodies.entries()) {
      if (bodies[body] !== null) continue;
      if (classes[at] === 'neither') bodies[body] = 'hidden';
      else if (classes[at] === 'seen' && choices.seen === 'drop') bodies[body] = 'seen';
    }
    return fate(null);
  });
  return { components, bodies };
}

/** The bodies that stay, by position. */
export function bodiesLeft({ bodies }: Pick<Decision, 'bodies'>): number[] {
  return bodies.flatMap((reason, n) => (reason === null ? [n] : []));
}

/** Shapes that hold a face which shall stay. */
function protectedBodies(whole: Whole, { keepFaces }: ReduceChoices): Set<number> {
  const files = new Set(keepFaces.map(({ file }) => file));
  return new Set(whole.shapes.flatMap(({ file }, n) => (files.has(file) ? [n] : [])));
}

/** Whether a word begins a word of a name: `pin` is in `clevis pin` and `pins`, not in `spindle`. */
function holdsWord(name: string, word: string): boolean {
  for (let at = name.indexOf(word); at >= 0; at = name.indexOf(word, at + 1))
    if (at === 0 || !/[a-z\u00df-\u024f]/.test(name[at - 1]!)) return true;
  return false;
}
